/**
 * What no client may do to the server: stop it, hold it, or get a 500 out of it. `HALF_STEP_FAULTS` says how many of
 * each kind are tried.
 */
import { randomUUID } from 'node:crypto'
import type { APIRequestContext, APIResponse } from '@playwright/test'
import { strToU8, zipSync } from 'fflate'
import { inspectArrangement } from '#core/formats/json'
import { compressMusicXml } from '#core/formats/musicxml/archive'
import { writeArrangementMidi } from '#core/formats/midi/write-arrangement'
import { seededChance } from '#core/players/randomness'
import { demoBytes, demoScore } from '../material/demo'
import { asking, percentile } from '../material/patience'
import { mutated, mutatedFile } from '../material/mutations'
import { expect, test } from '../material/player'

const COUNT = Number(process.env.HALF_STEP_FAULTS ?? 60)
const SEED = 17
/** No answer may take longer, ms, on a machine that does other things too. */
const SLOWEST_MS = 20_000

test.setTimeout(3_600_000)

const FERRY = demoScore('lantern-ferry.musicxml')
const MIDI = writeArrangementMidi(FERRY.arrangement)
const CHART =
  'title: Chart\nkey: G\nmeter: 3/4\n[Verse]\n| G / / | D7 / G/B | C / / | D7 / / |\n[Chorus]\n|: Em / / | C / / :| x3\n'
const CHORD_PRO =
  '{title: Sung}\n{key: D}\n{start_of_verse}\n[D]Down by the [A7]river the [G]boats lie [D]still\n{end_of_verse}\n{soc}\n[G]Home [A7]again, [D]home\n{eoc}\n'
const FILES: Record<string, Uint8Array> = {
  'score.musicxml': demoBytes('lantern-ferry.musicxml'),
  'score.mxl': compressMusicXml(FERRY.musicXml),
  'song.mid': MIDI,
  'chart.txt': strToU8(CHART),
  'song.cho': strToU8(CHORD_PRO),
  'song.json': strToU8(JSON.stringify(inspectArrangement(FERRY.arrangement))),
  'exact.json': strToU8(JSON.stringify(FERRY.arrangement)),
}

interface Known {
  songId: string
  partId: string
  arrangementId: string
  parts: { name: string; from: unknown; to: unknown }[]
  noteId: string
  passId: string
}

const upload = async (request: APIRequestContext, path: string, bytes: Uint8Array): Promise<APIResponse> =>
  await request.post(path, { data: Buffer.from(bytes), headers: { 'content-type': 'application/octet-stream' } })

async function known(request: APIRequestContext): Promise<Known> {
  const [song] = (await (await request.get('/api/songs')).json()) as { id: string }[]
  const work = (await (await request.get(`/api/songs/${song!.id}/work`)).json()) as {
    arrangementId: string
    arrangement: { notes: { id: string }[] }
    parts: { id: string; name: string; from: unknown; to: unknown }[]
  }
  const passId = randomUUID()
  expect((await request.post('/api/passes', { data: passOf(passId, work.parts[0]!.id) })).status()).toBe(201)
  return {
    songId: song!.id,
    partId: work.parts[0]!.id,
    arrangementId: work.arrangementId,
    parts: work.parts.map(({ name, from, to }) => ({ name, from, to })),
    noteId: work.arrangement.notes[0]!.id,
    passId,
  }
}

const passOf = (id: string, partId: string) => ({
  id,
  partId,
  hands: 'both',
  mode: 'steady',
  stretch: { from: { n: 0, d: 1 }, to: { n: 8, d: 1 } },
  bpm: 80,
  startedAt: '2026-11-20T18:00:00.000Z',
  lengthMs: 8000,
  offsetMs: 0,
  strictness: 'normal',
  take: {
    notes: [
      { onsetMs: 0, durationMs: 300, pitch: 60, velocity: 64 },
      { onsetMs: 750, durationMs: 300, pitch: 64, velocity: 64 },
    ],
    pedals: [{ atMs: 100, down: true }],
  },
})

const PATTERN = {
  name: 'Mine',
  hands: ['left'],
  cycles: [
    { beats: 4, division: 2, bars: [{ bass: 'x-|..|x-|..', upper: '..|x-|..|xx' }] },
    { beats: 3, division: 1, bars: [{ low: 'x..', upper: '.xx' }] },
  ],
}

/** Every route that takes JSON, with a body that is right. */
const bodies = ({
  songId,
  partId,
  arrangementId,
  parts,
  noteId,
  passId,
}: Known): [method: string, path: string, body: unknown][] => [
  ['POST', '/api/passes', passOf(randomUUID(), partId)],
  ['PATCH', `/api/passes/${passId}`, { remark: 'better' }],
  [
    'PATCH',
    `/api/songs/${songId}`,
    { title: 'Song', composer: '', edition: 'full', targetDate: '2027-01-05', targetShare: 0.9 },
  ],
  ['POST', `/api/songs/${songId}/editions`, { edition: 'simple' }],
  [
    'POST',
    `/api/songs/${songId}/editions`,
    {
      edition: 'broken',
      making: {
        kind: 'pattern',
        hand: 'left',
        pattern: PATTERN,
        stretch: { from: { n: 0, d: 1 }, to: { n: 8, d: 1 } },
      },
    },
  ],
  ['POST', `/api/songs/${songId}/editions`, { edition: 'easy', making: { kind: 'level', level: 2, pattern: PATTERN } }],
  ['POST', `/api/songs/${songId}/editions`, { edition: 'higher', making: { kind: 'key', halfSteps: 1 } }],
  ['POST', '/api/patterns', PATTERN],
  [
    'POST',
    '/api/drills',
    {
      title: 'Scale',
      material: { kind: 'scale', scale: 'major', octaves: 2 },
      hands: 'parallel',
      keys: { order: 'list', list: ['C', 'Bb'] },
      meter: { beats: 4, beatType: 4 },
      division: 2,
      rhythm: 'long-short',
      bpm: 80,
      doubleTime: true,
    },
  ],
  [
    'POST',
    '/api/drills',
    {
      title: 'Chords',
      material: {
        kind: 'chords',
        fifths: 0,
        length: { n: 8, d: 1 },
        chords: [
          { symbol: 'C', onset: { n: 0, d: 1 }, end: { n: 4, d: 1 } },
          { symbol: 'G7/B', onset: { n: 4, d: 1 }, end: { n: 8, d: 1 } },
        ],
      },
      patterns: { left: PATTERN, right: 'block-beats' },
      keys: { order: 'one', from: 'D' },
      meter: { beats: 4, beatType: 4 },
      bpm: 90,
    },
  ],
  [
    'POST',
    '/api/drills',
    {
      title: 'Passage',
      material: {
        kind: 'passage',
        fifths: 1,
        length: { n: 4, d: 1 },
        right: [
          { onset: { n: 0, d: 1 }, duration: { n: 1, d: 2 }, pitch: 67, spelled: 'G4' },
          { onset: { n: 1, d: 2 }, duration: { n: 1, d: 2 }, pitch: 69, spelled: 'A4' },
        ],
        left: [],
      },
      hands: 'right',
      rhythm: 'groups-2',
      keys: { order: 'chromatic', from: 'G' },
      meter: { beats: 4, beatType: 4 },
      bpm: 90,
    },
  ],
  [
    'POST',
    '/api/drills',
    {
      title: 'Progression',
      material: { kind: 'progression', degrees: ['ii7', 'V7', 'Imaj7'] },
      patterns: { left: 'shell' },
      keys: { order: 'random', seed: 4 },
      meter: { beats: 3, beatType: 4 },
      bpm: 90,
      swing: 2,
    },
  ],
  [
    'POST',
    `/api/arrangements/${arrangementId}/revisions`,
    {
      changes: [
        { kind: 'pitch', ids: [noteId], halfSteps: 1 },
        { kind: 'insert', hand: 'right', onset: { n: 0, d: 1 }, duration: { n: 1, d: 2 }, pitches: [100] },
        { kind: 'tempo', onset: { n: 4, d: 1 }, quarterBpm: 90 },
        { kind: 'append', notes: [{ hand: 'left', onset: { n: 0, d: 1 }, duration: { n: 1, d: 1 }, pitch: 40 }] },
        { kind: 'chord', onset: { n: 0, d: 1 }, symbol: 'C7' },
        { kind: 'lyric', id: noteId, text: 'la', hyphen: false },
      ],
    },
  ],
  ['PUT', `/api/arrangements/${arrangementId}/roles`, { voices: { 1: 'both' }, swapHands: false }],
  ['PUT', `/api/arrangements/${arrangementId}/parts`, { parts }],
  [
    'PATCH',
    '/api/days/2026-11-20',
    { minutes: 20, note: 'a note', skip: { id: 'x', what: { item: 'stage', unit: { kind: 'part', names: ['A'] } } } },
  ],
  [
    'PATCH',
    '/api/settings',
    {
      strictness: 'normal',
      keyboardDelayMs: 5,
      reachHalfSteps: 14,
      coach: { steps: 5 },
      controls: { start: { key: 21 } },
      timeZone: 'Europe/Vienna',
      stand: { size: 'large' },
    },
  ],
  ['PATCH', '/api/account', { name: `Renamed ${randomUUID().slice(0, 13)}` }],
  ['PUT', '/api/account/password', { current: 'not the password', password: 'another password of mine' }],
  ['DELETE', '/api/account', { name: 'Nobody of this name', current: 'not the password' }],
  ['POST', '/api/session', { name: 'Nobody', password: 'a password of nobody' }],
  ['POST', '/api/accounts', { name: `Someone ${randomUUID()}`, password: 'a password of someone' }],
]

const QUERIES = [
  '/api/today?at=2026-11-20T18:00:00Z&minutes=20',
  '/api/today/calendar?days=14',
  '/api/days?limit=20',
  '/api/passes?limit=20&day=2026-11-20',
  '/api/logbook?from=2026-01-01',
  '/api/logbook/sessions?before=2026-11-20',
  '/api/logbook/export?format=csv',
  '/api/songs?archived=false',
]

/** Watches that the server goes on answering, and tells what was found. */
async function watched(
  baseURL: string,
  what: string,
  work: (answered: (status: number, tookMs: number, told: string) => void) => Promise<void>,
) {
  const faults: string[] = []
  const took: number[] = []
  const statuses = new Map<number, number>()
  const stop = asking(`${baseURL}/api/health`, 20)
  await work((status, tookMs, told) => {
    took.push(tookMs)
    statuses.set(status, (statuses.get(status) ?? 0) + 1)
    if (status >= 500 || tookMs > SLOWEST_MS)
      faults.push(`${status} in ${Math.round(tookMs)} ms: ${told.slice(0, 300)}`)
  })
  const health = await stop()
  took.sort((a, b) => a - b)
  console.log(
    `${what}: ${took.length} requests (${[...statuses]
      .sort(([a], [b]) => a - b)
      .map(([status, count]) => `${status}: ${count}`)
      .join(
        ', ',
      )}); slowest ${Math.round(took.at(-1) ?? 0)} ms, p99 ${Math.round(percentile(took, 0.99))} ms; /api/health slowest ${Math.round(health.tookMs.at(-1) ?? 0)} ms, p99 ${Math.round(percentile(health.tookMs, 0.99))} ms of ${health.tookMs.length}`,
  )
  expect(faults).toEqual([])
  expect(health.unwanted).toEqual([])
}

const timed = async (send: () => Promise<APIResponse>): Promise<[APIResponse, number]> => {
  const began = performance.now()
  const answer = await send()
  return [answer, performance.now() - began]
}

test('bodies and queries that are wrong in every way are refused, none with a 500', async ({ request, baseURL }) => {
  const chance = seededChance(SEED)
  const its = await known(request)
  const right = bodies(its)
  await watched(baseURL!, 'mutated bodies', async answered => {
    for (const [method, path] of right) {
      for (const data of ['', '{', '[]', 'null', '"text"', '7', '['.repeat(50_000), '\u0000', '{"a":"\uD83D"}']) {
        const [answer, ms] = await timed(
          async () => await request.fetch(path, { method, data, headers: { 'content-type': 'application/json' } }),
        )
        answered(answer.status(), ms, `${method} ${path} ${data.slice(0, 40)}`)
        expect(answer.status(), `${method} ${path} ${data.slice(0, 40)}`).toBeGreaterThanOrEqual(400)
      }
    }
    for (let count = 0; count < COUNT; count++) {
      const [method, path, body] = chance.pick(right)
      const data = JSON.stringify(mutated(body, chance))
      const [answer, ms] = await timed(
        async () => await request.fetch(path, { method, data, headers: { 'content-type': 'application/json' } }),
      )
      answered(answer.status(), ms, `${method} ${path} ${data}`)
    }
    for (let count = 0; count < COUNT / 5; count++) {
      const path = chance.pick(QUERIES).replaceAll(/(?<==)[^&]*/g, value =>
        chance.happens(0.6)
          ? encodeURIComponent(
              JSON.stringify(mutated([value], chance))
                .slice(1, 200)
                .replaceAll(/\p{Cs}/gu, '?'),
            )
          : value,
      )
      const [answer, ms] = await timed(async () => await request.get(path))
      answered(answer.status(), ms, path)
    }
  })
})

for (const [name, bytes] of Object.entries(FILES)) {
  test(`files that are wrong in every way are read or refused, none with a 500: ${name}`, async ({
    request,
    baseURL,
  }) => {
    const chance = seededChance(SEED)
    const { songId } = await known(request)
    await watched(baseURL!, `mutated ${name}`, async answered => {
      for (let count = 0; count < COUNT; count++) {
        const file = mutatedFile(bytes, chance)
        const path =
          name.endsWith('.mid') && count % 2 === 1 ? `/api/songs/${songId}/recordings` : `/api/songs?name=${name}`
        const [answer, ms] = await timed(async () => await upload(request, path, file))
        answered(answer.status(), ms, `${path}, number ${count}: ${await answer.text()}`)
      }
    })
  })
}

/** A Standard MIDI File of type 0, from events at absolute ticks. */
function midiFile(ticksPerQuarter: number, events: readonly { tick: number; bytes: readonly number[] }[]): Uint8Array {
  const track: number[] = []
  let last = 0
  for (const { tick, bytes } of [...events].sort((a, b) => a.tick - b.tick)) {
    const delta: number[] = []
    for (let left = tick - last, isLast = true; left > 0 || isLast; left = Math.floor(left / 128), isLast = false)
      delta.unshift((left % 128) + (isLast ? 0 : 128))
    track.push(...delta, ...bytes)
    last = tick
  }
  track.push(0, 0xff, 0x2f, 0)
  const number = (value: number, size: number) =>
    Array.from({ length: size }, (_, place) => Math.floor(value / 256 ** (size - 1 - place)) % 256)
  return Uint8Array.from([
    ...strToU8('MThd'),
    ...number(6, 4),
    0,
    0,
    0,
    1,
    ...number(ticksPerQuarter, 2),
    ...strToU8('MTrk'),
    ...number(track.length, 4),
    ...track,
  ])
}
const struck = (tick: number, pitch: number, length: number) => [
  { tick, bytes: [0x90, pitch, 64] },
  { tick: tick + length, bytes: [0x80, pitch, 0] },
]

test('small requests that once stopped or held the server are refused, and it goes on', async ({
  request,
  baseURL,
}) => {
  const its = await known(request)
  const chance = seededChance(SEED)
  const revise = (changes: unknown[]) => async () =>
    await request.post(`/api/arrangements/${its.arrangementId}/revisions`, { data: { changes } })
  const song = (name: string, bytes: Uint8Array) => async () => await upload(request, `/api/songs?name=${name}`, bytes)
  const recording = (bytes: Uint8Array) => async () =>
    await upload(request, `/api/songs/${its.songId}/recordings`, bytes)
  const take = (count: number) => ({
    ...passOf(randomUUID(), its.partId),
    lengthMs: 3_600_000,
    take: {
      notes: Array.from({ length: count }, (_, index) => ({
        onsetMs: Math.round((index * 3_500_000) / count),
        durationMs: 100,
        pitch: 40 + Math.floor(40 * chance.uniform()),
        velocity: 64,
      })),
      pedals: [],
    },
  })
  const container = strToU8('<container><rootfiles><rootfile full-path="a.xml"/></rootfiles></container>')
  const lone = (onset: number) => [{ hand: 'right', onset: { n: onset, d: 1 }, duration: { n: 1, d: 1 }, pitch: 60 }]
  const cases: [what: string, wanted: number[], send: () => Promise<APIResponse>][] = [
    [
      'three notes days apart',
      [422],
      recording(
        midiFile(
          480,
          [0, 24, 48].flatMap(hours => struck(hours * 3600 * 960, 60 + hours / 24, 10)),
        ),
      ),
    ],
    ['a note in a billion quarters', [422], revise([{ kind: 'append', notes: lone(1_000_000_000) }])],
    ['a note in two million quarters', [422], revise([{ kind: 'append', notes: lone(2_000_000) }])],
    ['a directive of blanks', [422], song('a.cho', strToU8(`{a${' '.repeat(1000)}x`))],
    ['nothing but line ends', [422], song('a.txt', strToU8('\n'.repeat(200_000)))],
    ['nothing but brackets', [422], song('a.txt', strToU8('['.repeat(190_000)))],
    ['brackets behind a chord', [422], song('a.txt', strToU8(`[C]\n${'['.repeat(190_000)}`))],
    ['one long line', [422], song('a.cho', strToU8(`{t: x}\n${'[C]a '.repeat(5_800)}`))],
    [
      'a pass of 20,000 notes over an hour',
      [201],
      async () => await request.post('/api/passes', { data: take(20_000) }),
    ],
    ['a pass of 20,001 notes', [400], async () => await request.post('/api/passes', { data: take(20_001) })],
    [
      'a recording of 20,000 notes',
      [201, 422],
      recording(
        midiFile(
          480,
          Array.from({ length: 20_000 }, (_, index) =>
            struck(index * 100, 40 + Math.floor(40 * chance.uniform()), 90),
          ).flat(),
        ),
      ),
    ],
    [
      'a division of 32,767',
      [201, 422],
      song(
        'a.mid',
        midiFile(
          32_767,
          Array.from({ length: 5_000 }, (_, index) =>
            struck(index * 9_000 + Math.floor(9_000 * chance.uniform()), 40 + (index % 40), 20_000),
          ).flat(),
        ),
      ),
    ],
    [
      'bars without end',
      [422],
      song(
        'a.mid',
        midiFile(96, [
          { tick: 0, bytes: [0xff, 0x58, 4, 1, 5, 24, 8] },
          ...struck(0, 60, 10),
          ...struck(96 * 4_000, 62, 10),
        ]),
      ),
    ],
    [
      '140,000 notes',
      [422],
      song(
        'a.mid',
        midiFile(480, Array.from({ length: 140_000 }, (_, index) => struck(index * 2, 40 + (index % 40), 2)).flat()),
      ),
    ],
    [
      '30,000 notes at once',
      [201, 422],
      song(
        'a.mid',
        midiFile(480, Array.from({ length: 30_000 }, (_, index) => struck(index % 3, 21 + (index % 88), 480)).flat()),
      ),
    ],
    [
      '2,000 transpositions',
      [201, 422],
      revise(Array.from({ length: 2_000 }, (_, index) => ({ kind: 'transpose', halfSteps: index % 2 ? 1 : -1 }))),
    ],
    [
      'an archive of 120 million zeros',
      [422],
      song(
        'a.mxl',
        zipSync({ 'META-INF/container.xml': container, 'a.xml': new Uint8Array(120_000_000) }, { level: 1 }),
      ),
    ],
    [
      '50 million bytes of nothing in an archive',
      [422],
      song(
        'a.mxl',
        zipSync({ 'META-INF/container.xml': container, 'a.xml': new Uint8Array(50_000_000) }, { level: 1 }),
      ),
    ],
  ]
  await watched(baseURL!, 'small requests', async answered => {
    for (const [what, wanted, send] of cases) {
      const [answer, ms] = await timed(send)
      console.log(`  ${what}: ${answer.status()} in ${Math.round(ms)} ms`)
      answered(answer.status(), ms, what)
      expect(wanted, `${what}: ${await answer.text()}`).toContain(answer.status())
    }
  })
})

test('a broken Origin, a body without its length, and lists of icons are refused or known', async ({
  request,
  baseURL,
}) => {
  expect((await request.patch('/api/settings', { data: {}, headers: { origin: 'http://[broken' } })).status()).toBe(403)
  for (let count = 0; count < COUNT; count++)
    expect(
      (await fetch(`${baseURL}/api/_nuxt_icon/lucide.json?icons=x${count}`, { redirect: 'manual' })).status,
    ).not.toBe(200)
})

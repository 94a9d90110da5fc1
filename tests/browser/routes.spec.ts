import { randomUUID } from 'node:crypto'
import { request as httpRequest } from 'node:http'
import type { APIRequestContext } from '@playwright/test'
import { bandFile } from '../material/midi-tracks'
import { expect, test } from '../material/player'

const firstPart = async (api: APIRequestContext) => {
  const songs = (await (await api.get('/api/songs')).json()) as { id: string; title: string }[]
  const song = songs.find(one => one.title === 'The Lantern Ferry')
  const { parts } = (await (await api.get(`/api/songs/${song!.id}`)).json()) as { parts: { id: string }[] }
  return { songId: song!.id, partId: parts[0]!.id }
}
const pass = (partId: string, id: string = randomUUID()) => ({
  id,
  partId,
  hands: 'right',
  bpm: 60,
  startedAt: '2026-01-02T18:00:00.000Z',
  lengthMs: 16_000,
  offsetMs: 0,
  take: { notes: [{ onsetMs: 3, durationMs: 800, pitch: 62, velocity: 70 }], pedals: [] },
})

const PATTERN = {
  name: 'Mine',
  hands: ['left'],
  cycles: [{ beats: 4, division: 1, bars: [{ bass: 'x.x.', fifth: '.x.x' }] }],
}

/** A request as raw as a script outside a browser could send it. */
const raw = (
  base: string,
  path: string,
  options: { method?: string; headers?: Record<string, string>; body?: string },
) =>
  new Promise<number>((resolve, reject) => {
    const sent = httpRequest(
      new URL(path, base),
      { method: options.method ?? 'GET', headers: options.headers, agent: false },
      answer => {
        answer.resume()
        resolve(answer.statusCode!)
      },
    )
    sent.on('error', reject)
    if (options.body !== undefined) sent.write(options.body)
    sent.end()
  })

test("one player's songs, parts, passes and takes are not there for another", async ({
  playwright,
  baseURL,
  request,
}) => {
  const { songId, partId } = await firstPart(request)
  const kept = pass(partId)
  expect((await request.post('/api/passes', { data: kept })).status()).toBe(201)

  const other = await playwright.request.newContext({ baseURL })
  const name = `Other ${randomUUID().slice(0, 8)}`
  expect((await other.post('/api/accounts', { data: { name, password: 'a long enough password' } })).status()).toBe(201)
  expect(await (await other.get('/api/songs')).json()).toEqual([])
  for (const path of [
    `/api/songs/${songId}`,
    `/api/parts/${partId}`,
    `/api/passes/${kept.id}`,
    `/api/passes/${kept.id}/take`,
    `/api/passes/${kept.id}/review`,
  ]) {
    expect((await other.get(path)).status(), path).toBe(404)
  }
  expect((await other.patch(`/api/songs/${songId}`, { data: { archived: true } })).status()).toBe(404)
  const { arrangementId, parts } = (await (await request.get(`/api/songs/${songId}/work`)).json()) as {
    arrangementId: string
    parts: unknown[]
  }
  expect((await other.get(`/api/songs/${songId}/work`)).status()).toBe(404)
  expect(
    (
      await other.put(`/api/arrangements/${arrangementId}/parts`, {
        data: { parts: [{ name: 'Mine', from: { n: 0, d: 1 }, to: { n: 4, d: 1 } }] },
      })
    ).status(),
  ).toBe(404)
  expect(
    (
      await other.post(`/api/arrangements/${arrangementId}/revisions`, {
        data: { changes: [{ kind: 'transpose', halfSteps: 1 }] },
      })
    ).status(),
  ).toBe(404)
  expect((await other.put(`/api/arrangements/${arrangementId}/roles`, { data: { swapHands: true } })).status()).toBe(
    404,
  )
  expect(((await (await request.get(`/api/songs/${songId}/work`)).json()) as { parts: unknown[] }).parts).toEqual(parts)
  expect((await other.post('/api/passes', { data: pass(partId) })).status()).toBe(404)
  expect(
    (
      await other.post(`/api/songs/${songId}/recordings`, {
        data: Buffer.from('MThd'),
        headers: { 'content-type': 'application/octet-stream' },
      })
    ).status(),
  ).toBe(404)
  expect(await (await other.get('/api/passes')).json()).toEqual([])
  expect(
    (
      await other.post(`/api/songs/${songId}/editions`, {
        data: { edition: 'mine', making: { kind: 'level', level: 1 } },
      })
    ).status(),
  ).toBe(404)
  const { id: patternId } = (await (await request.post('/api/patterns', { data: PATTERN })).json()) as { id: string }
  expect((await other.put(`/api/patterns/${patternId}`, { data: PATTERN })).status()).toBe(404)
  expect((await other.delete(`/api/patterns/${patternId}`)).status()).toBe(404)
  expect(await (await other.get('/api/patterns')).json()).toEqual([])
  expect(await (await other.get('/api/drills')).json()).toEqual([])

  expect(
    (
      await other.post('/api/accounts', { data: { name: name.toUpperCase(), password: 'a long enough password' } })
    ).status(),
  ).toBe(409)
  expect((await other.post('/api/session', { data: { name, password: 'not the password at all' } })).status()).toBe(401)
  expect((await other.post('/api/session', { data: { name, password: 'a long enough password' } })).status()).toBe(200)
})

test('a pass sent twice is kept once, with the assessment the core gives', async ({ request }) => {
  const { partId } = await firstPart(request)
  const sent = pass(partId)
  for (let times = 0; times < 2; times++) expect((await request.post('/api/passes', { data: sent })).status()).toBe(201)
  const passes = (await (await request.get('/api/passes?limit=500')).json()) as {
    id: string
    right: number
    missed: number
  }[]
  expect(passes.filter(one => one.id === sent.id)).toMatchObject([{ right: 1, missed: 13 }])
  const assessment = (await (await request.get(`/api/passes/${sent.id}`)).json()) as {
    notes: { deviationMs: number }[]
  }
  expect(assessment.notes[0]!.deviationMs).toBe(3)
})

test('a body that is wrong is refused with the field and what was expected', async ({ request }) => {
  const { partId } = await firstPart(request)
  const good = pass(partId)
  for (const [body, words] of [
    [{ ...good, bpm: 'fast' }, '"bpm" must be a number'],
    [{ ...good, bpm: 1e9 }, '"bpm" must be less than or equal to 400'],
    [{ ...good, id: 'x' }, '"id" must be a valid GUID'],
    [{ ...good, more: 1 }, '"more" is not allowed'],
    [
      { ...good, take: { notes: [{ onsetMs: 0, durationMs: 1, pitch: 200, velocity: 1 }], pedals: [] } },
      '"take.notes[0].pitch" must be a whole number from 0 to 127',
    ],
  ] as const) {
    const answer = await request.post('/api/passes', { data: body })
    expect(answer.status()).toBe(400)
    expect(((await answer.json()) as { message: string }).message).toContain(words)
  }
  expect(
    (await request.post('/api/passes', { data: '{"id":', headers: { 'content-type': 'application/json' } })).status(),
  ).toBe(400)
  expect((await request.get('/api/songs/not-an-id')).status()).toBe(400)
  expect((await request.get('/api/passes?limit=100000')).status()).toBe(400)
})

const SETTINGS = {
  strictness: 'normal',
  keyboardDelayMs: 0,
  reachHalfSteps: 15,
  noteNames: 'letters',
  coach: {},
  sessionMinutes: 30,
  controls: {},
}

test('settings are checked, and each player has their own', async ({ playwright, baseURL, request }) => {
  expect(await (await request.get('/api/settings')).json()).toMatchObject(SETTINGS)
  for (const [body, words] of [
    [{ strictness: 'cruel' }, '"strictness" must be one of'],
    [{ keyboardDelayMs: 9000 }, 'less than or equal to 500'],
    [{}, 'at least 1 key'],
    [{ reachHalfSteps: 30 }, 'less than or equal to 19'],
    [{ noteNames: 'numbers' }, 'must be one of'],
    [{ isDemo: false }, 'is not allowed'],
    [{ coach: { gate: 7 } }, '"coach.gate" must be one of'],
    [{ coach: { more: 1 } }, 'is not allowed'],
    [{ controls: { start: { key: 21 }, next: { key: 21 } } }, 'two things to do'],
    [{ controls: { start: { pedal: 1 } } }, 'does not match'],
    [{ timeZone: 'Nowhere/Town' }, 'is no time zone'],
    [{ sessionMinutes: 1 }, 'greater than or equal to 5'],
  ] as const) {
    const answer = await request.patch('/api/settings', { data: body })
    expect(answer.status()).toBe(400)
    expect(((await answer.json()) as { message: string }).message).toContain(words)
  }
  const other = await playwright.request.newContext({ baseURL })
  await other.post('/api/accounts', {
    data: { name: `Setter ${randomUUID().slice(0, 8)}`, password: 'a long enough password' },
  })
  expect(await (await other.patch('/api/settings', { data: { strictness: 'gentle' } })).json()).toMatchObject({
    ...SETTINGS,
    strictness: 'gentle',
  })
  expect(await (await request.get('/api/settings')).json()).toMatchObject(SETTINGS)
})

test('a pass in own time, of a place, and of a join is kept as what it was; one outside the song is refused', async ({
  request,
}) => {
  const { songId, partId } = await firstPart(request)
  const place = { from: { n: 5, d: 1 }, to: { n: 9, d: 1 } }
  for (const body of [
    { ...pass(partId), mode: 'own-time' },
    { ...pass(partId), stretch: place },
    { ...pass(partId), stretch: { from: { n: 0, d: 1 }, to: { n: 32, d: 1 } }, hands: 'both' },
  ]) {
    expect(
      (await request.post('/api/passes', { data: { ...body, startedAt: new Date().toISOString() } })).status(),
    ).toBe(201)
  }
  const kept = (await (await request.get('/api/passes?limit=500')).json()) as {
    partName: string
    place: { from: { bar: number }; to: { bar: number } } | null
    mode: string
  }[]
  expect(kept.some(one => one.mode === 'own-time')).toBe(true)
  expect(kept.filter(one => one.place).map(one => [one.partName, one.place!.from.bar, one.place!.to.bar])).toEqual(
    expect.arrayContaining([
      ['Verse 1, a', 2, 2],
      ['Verse 1, a', 0, 8],
    ]),
  )
  const { newestDay } = (await (await request.get(`/api/songs/${songId}/coach`)).json()) as {
    newestDay: { stretch: { from: { n: number }; to: { n: number } }; failed: unknown[] }[]
  }
  expect(newestDay.some(one => one.stretch.from.n === 5 && one.stretch.to.n === 9)).toBe(true)
  expect(newestDay.some(one => one.failed.length > 0)).toBe(true)
  for (const stretch of [
    { from: { n: 9, d: 1 }, to: { n: 5, d: 1 } },
    { from: { n: 0, d: 1 }, to: { n: 9999, d: 1 } },
    { from: { n: -4, d: 1 }, to: { n: 4, d: 1 } },
  ]) {
    const answer = await request.post('/api/passes', { data: { ...pass(partId), stretch } })
    expect(answer.status()).toBe(400)
    expect(((await answer.json()) as { message: string }).message).toContain('stretch')
  }
})

test('days, remarks and goals are checked, and belong to one player', async ({ playwright, baseURL, request }) => {
  const { songId, partId } = await firstPart(request)
  const kept = pass(partId)
  expect((await request.post('/api/passes', { data: kept })).status()).toBe(201)
  expect((await request.patch(`/api/passes/${kept.id}`, { data: { remark: 'tired' } })).status()).toBe(204)
  expect(((await (await request.get(`/api/passes/${kept.id}/review`)).json()) as { remark: string }).remark).toBe(
    'tired',
  )
  expect((await request.patch(`/api/passes/${kept.id}`, { data: { remark: 'x'.repeat(2001) } })).status()).toBe(400)
  for (const [path, body] of [
    ['/api/days/2026-13-01', { note: 'x' }],
    ['/api/days/tomorrow', { note: 'x' }],
    ['/api/days/2026-02-01', {}],
    ['/api/days/2026-02-01', { minutes: 3 }],
    ['/api/days/2026-02-01', { note: 'x'.repeat(4001) }],
    [`/api/songs/${songId}`, { targetDate: '1 May' }],
    [`/api/songs/${songId}`, { targetShare: 3 }],
  ] as const)
    expect((await request.patch(path, { data: body })).status(), `${path} ${JSON.stringify(body).slice(0, 40)}`).toBe(
      400,
    )
  expect(
    await (
      await request.patch('/api/days/2026-02-01', {
        data: { skip: { id: 'a', what: { item: 'stage', unit: { kind: 'part', names: ['A'] } } } },
      })
    ).json(),
  ).toMatchObject({ skipped: [{ id: 'a', what: { item: 'stage', unit: { kind: 'part', names: ['A'] } } }], note: '' })
  expect(
    await (await request.patch('/api/days/2026-02-01', { data: { note: 'after all', unskip: 'a' } })).json(),
  ).toMatchObject({ skipped: [], note: 'after all' })
  expect((await request.patch(`/api/songs/${songId}`, { data: { targetDate: '2030-05-01' } })).status()).toBe(204)
  expect(((await (await request.get(`/api/songs/${songId}`)).json()) as { targetDate: string }).targetDate).toBe(
    '2030-05-01',
  )
  await request.patch(`/api/songs/${songId}`, { data: { targetDate: null } })
  for (const path of [
    '/api/today?minutes=1',
    '/api/today?at=soon',
    '/api/today/calendar?days=999',
    '/api/logbook?hands=feet',
    '/api/logbook/errors',
    '/api/logbook/gates',
    '/api/logbook/notes?song=1',
    '/api/logbook/export?format=xml',
  ])
    expect((await request.get(path)).status(), path).toBe(400)

  const other = await playwright.request.newContext({ baseURL })
  await other.post('/api/accounts', {
    data: { name: `Diary ${randomUUID().slice(0, 8)}`, password: 'a long enough password' },
  })
  for (const path of [
    `/api/songs/${songId}/coach`,
    `/api/logbook/errors?song=${songId}`,
    `/api/logbook/gates?song=${songId}`,
    `/api/logbook/notes?song=${songId}`,
  ])
    expect((await other.get(path)).status(), path).toBe(404)
  expect((await other.patch(`/api/passes/${kept.id}`, { data: { remark: 'mine' } })).status()).toBe(404)
  expect(await (await other.get('/api/days')).json()).toEqual([])
  expect(await (await other.get('/api/logbook')).json()).toMatchObject({ days: [], tempos: [], songs: [], parts: [] })
  expect(await (await other.get('/api/today')).json()).toMatchObject({ items: [], songs: [], main: null })
  const nobody = await playwright.request.newContext({
    baseURL,
    storageState: { cookies: [], origins: [] },
    extraHTTPHeaders: { 'x-forwarded-for': '203.0.113.9' },
  })
  for (const path of [
    '/api/today',
    '/api/today/calendar',
    '/api/days',
    '/api/logbook',
    '/api/logbook/export?format=csv',
    `/api/songs/${songId}/coach`,
  ])
    expect((await nobody.get(path)).status(), path).toBe(401)
})

test('sizes are limited, also of bodies that do not tell theirs', async ({ baseURL }) => {
  const json = { 'content-type': 'application/json' }
  expect(
    await raw(baseURL!, '/api/passes', {
      method: 'POST',
      headers: { ...json, 'transfer-encoding': 'chunked' },
      body: '{}',
    }),
  ).toBe(411)
  expect(
    await raw(baseURL!, '/api/passes', { method: 'POST', headers: { ...json, 'content-length': '3000000' }, body: '' }),
  ).toBe(413)
})

test("only this machine's own pages are signed in by the demo or may change anything", async ({ baseURL }) => {
  expect(await raw(baseURL!, '/api/songs', {})).toBe(200)
  expect(await raw(baseURL!, '/api/songs', { headers: { host: 'half-step.example' } })).toBe(401)
  expect(await raw(baseURL!, '/api/songs', { headers: { 'x-forwarded-for': '203.0.113.9' } })).toBe(401)
  expect(
    await raw(baseURL!, '/api/songs', {
      method: 'POST',
      headers: { origin: 'http://elsewhere.example', 'content-length': '0' },
    }),
  ).toBe(403)
})

test('who plays what is checked, kept as a new revision with the parts, and can be put back', async ({ request }) => {
  const { id } = (await (
    await request.post('/api/songs?name=band.mid', {
      data: Buffer.from(bandFile()),
      headers: { 'content-type': 'application/octet-stream' },
    })
  ).json()) as { id: string }
  type Work = {
    arrangementId: string
    revision: number
    arrangement: { notes: { pitch: number; hand: string }[] }
    parts: { id: string }[]
  }
  const work = async () => (await (await request.get(`/api/songs/${id}/work`)).json()) as Work
  const first = await work()
  const put = (data: unknown, base: string) => request.put(`/api/arrangements/${base}/roles`, { data })
  for (const [data, status, words] of [
    [{ voices: { 1: 'everybody' } }, 400, 'must be one of'],
    [{ voices: { 9: 'right' } }, 422, 'voice 9'],
    [{ voices: { 1: 'role', 2: 'role', 3: 'nobody' } }, 422, 'for a hand'],
    [{ hands: 'swap' }, 400, 'not allowed'],
  ] as const) {
    const answer = await put(data, first.arrangementId)
    expect(answer.status(), words).toBe(status)
    expect(((await answer.json()) as { message: string }).message).toContain(words)
  }
  // What changes nothing is no new revision.
  expect(
    ((await (await put({ voices: { 1: 'right' } }, first.arrangementId)).json()) as { revision: number }).revision,
  ).toBe(1)
  expect((await put({ voices: { 1: 'role', 2: 'right' } }, first.arrangementId)).status()).toBe(201)
  const second = await work()
  expect([second.revision, second.parts.map(part => part.id)]).toEqual([2, first.parts.map(part => part.id)])
  expect((await put({ swapHands: true }, first.arrangementId)).status()).toBe(409)
  expect((await put({ swapHands: true }, second.arrangementId)).status()).toBe(201)
  expect((await put({ voices: { 1: 'right', 2: 'left', 3: 'left' } }, (await work()).arrangementId)).status()).toBe(201)
  const sorted = ({ arrangement }: Work) => arrangement.notes.map(note => `${note.hand} ${note.pitch}`).sort()
  expect(sorted(await work())).toEqual(sorted(first))
  await request.patch(`/api/songs/${id}`, { data: { archived: true } })
})

test('corrections and parts are checked, refused whole, and kept as a new revision that passes stay behind', async ({
  request,
}) => {
  const chart = Buffer.from('title: Checked\n[A]\n| C | F | G | C |\n[B]\n| Am | F |')
  const { id } = (await (
    await request.post('/api/songs?name=checked.txt', {
      data: chart,
      headers: { 'content-type': 'application/octet-stream' },
    })
  ).json()) as { id: string }
  type Work = {
    arrangementId: string
    revision: number
    arrangement: { notes: { id: string; pitch: number }[] }
    parts: { id: string; name: string; from: { n: number; d: number }; to: { n: number; d: number } }[]
  }
  const work = async () => (await (await request.get(`/api/songs/${id}/work`)).json()) as Work
  const first = await work()
  const noteId = first.arrangement.notes[0]!.id
  const change = (changes: unknown[], base = first.arrangementId) =>
    request.post(`/api/arrangements/${base}/revisions`, { data: { changes } })
  for (const [changes, status, words] of [
    [[{ kind: 'explode' }], 400, 'changes[0]'],
    [[{ kind: 'finger', id: noteId, finger: 7 }], 400, 'less than or equal to 5'],
    [[], 400, 'at least 1'],
    [[{ kind: 'finger', id: noteId, finger: 2, more: 1 }], 400, 'not allowed'],
    [[{ kind: 'delete', ids: ['nobody'] }], 422, 'not there any more'],
    [
      [
        { kind: 'finger', id: noteId, finger: 2 },
        { kind: 'chord', onset: { n: 0, d: 1 }, symbol: 'Xyz' },
      ],
      422,
      'not a chord symbol',
    ],
  ] as const) {
    const answer = await change([...changes])
    expect(answer.status(), words).toBe(status)
    expect(((await answer.json()) as { message: string }).message).toContain(words)
  }
  expect((await work()).revision).toBe(1)

  const played = pass(first.parts[0]!.id)
  expect((await request.post('/api/passes', { data: played })).status()).toBe(201)
  expect(
    (
      await change([
        { kind: 'finger', id: noteId, finger: 5 },
        { kind: 'pitch', ids: [noteId], halfSteps: 1 },
      ])
    ).status(),
  ).toBe(201)
  const second = await work()
  expect([second.revision, second.parts.map(part => part.id)]).toEqual([2, first.parts.map(part => part.id)])
  expect(second.arrangement.notes.find(note => note.id === noteId)).toMatchObject({
    pitch: first.arrangement.notes[0]!.pitch + 1,
    finger: 5,
  })
  const review = (await (await request.get(`/api/passes/${played.id}/review`)).json()) as { arrangementId: string }
  expect(review.arrangementId).toBe(first.arrangementId)
  expect((await change([{ kind: 'transpose', halfSteps: 1 }])).status()).toBe(409)

  const put = (parts: unknown) => request.put(`/api/arrangements/${second.arrangementId}/parts`, { data: { parts } })
  const [a, b] = second.parts.map(({ id: partId, name, from, to }) => ({ id: partId, name, from, to }))
  expect((await put([a, { ...b, to: { n: 4000, d: 1 } }])).status()).toBe(422)
  expect((await put([a, a])).status()).toBe(400)
  expect((await put([{ ...a, id: randomUUID() }])).status()).toBe(409)
  expect(
    (await put([{ ...b, name: 'Bridge' }, a, { name: 'Tail', from: { n: 23, d: 1 }, to: { n: 24, d: 1 } }])).status(),
  ).toBe(204)
  expect((await work()).parts.map(part => part.name)).toEqual(['Bridge', 'A', 'Tail'])
  expect(
    (
      (await (await request.get(`/api/songs/${id}`)).json()) as {
        parts: { name: string; reached: { hands: string; passes: number }[] }[]
      }
    ).parts[1]!.reached.find(one => one.hands === 'right')!.passes,
  ).toBe(1)
  // With its edge moved the part is another one, until the edge is back where it was played.
  const passesOfA = async () =>
    (
      (await (await request.get(`/api/songs/${id}`)).json()) as {
        parts: { id: string; reached: { hands: string; passes: number }[] }[]
      }
    ).parts
      .find(part => part.id === a!.id)!
      .reached.find(one => one.hands === 'right')!.passes
  expect((await put([{ ...a, to: { n: 12, d: 1 } }, b])).status()).toBe(204)
  expect(await passesOfA()).toBe(0)
  expect((await put([a, b])).status()).toBe(204)
  expect(await passesOfA()).toBe(1)
  await request.patch(`/api/songs/${id}`, { data: { archived: true } })
})

test('a simple edition stands beside the full one, and what was learned counts where the notes are the same', async ({
  request,
}) => {
  const chart = Buffer.from('title: Twofold\n[A]\n| C | F |\n[B]\n| G | C |')
  const { id } = (await (
    await request.post('/api/songs?name=twofold.txt', {
      data: chart,
      headers: { 'content-type': 'application/octet-stream' },
    })
  ).json()) as { id: string }
  type Song = {
    editions: { id: string; edition: string }[]
    parts: {
      id: string
      name: string
      reached: { hands: string; passes: number; cleanBpm: number | null; from?: string }[]
    }[]
  }
  const song = async (of: string) => (await (await request.get(`/api/songs/${of}`)).json()) as Song
  const made = await request.post(`/api/songs/${id}/editions`, { data: { edition: 'simple' } })
  expect(made.status()).toBe(201)
  const { id: simple } = (await made.json()) as { id: string }
  expect((await song(simple)).editions.map(one => one.edition)).toEqual(['', 'simple'])

  // The simple edition loses a note of the first chord; its second part stays as it is.
  const work = (await (await request.get(`/api/songs/${simple}/work`)).json()) as {
    arrangementId: string
    arrangement: { notes: { id: string; hand: string }[] }
  }
  const dropped = work.arrangement.notes.find(one => one.hand === 'right')!.id
  expect(
    (
      await request.post(`/api/arrangements/${work.arrangementId}/revisions`, {
        data: { changes: [{ kind: 'delete', ids: [dropped] }] },
      })
    ).status(),
  ).toBe(201)

  // A clean pass of both parts' right hand in the full edition.
  const full = (await (await request.get(`/api/songs/${id}/work`)).json()) as {
    arrangement: {
      notes: { hand: string; pitch: number; onset: { n: number; d: number }; duration: { n: number; d: number } }[]
    }
    parts: { id: string; from: { n: number }; to: { n: number } }[]
  }
  for (const part of full.parts) {
    const notes = full.arrangement.notes
      .filter(one => one.hand === 'right' && one.onset.n >= part.from.n && one.onset.n < part.to.n)
      .map(one => ({
        onsetMs: (one.onset.n - part.from.n) * 1000,
        durationMs: (one.duration.n / one.duration.d) * 950,
        pitch: one.pitch,
        velocity: 70,
      }))
    expect(
      (await request.post('/api/passes', { data: { ...pass(part.id), take: { notes, pedals: [] } } })).status(),
    ).toBe(201)
  }
  const right = (await song(simple)).parts.map(part => part.reached.find(one => one.hands === 'right')!)
  expect(right[0]).toMatchObject({ passes: 0, cleanBpm: null })
  expect(right[1]).toMatchObject({ passes: 0, cleanBpm: 60, from: 'B (first edition)' })
  expect((await request.post(`/api/songs/${randomUUID()}/editions`, { data: { edition: 'x' } })).status()).toBe(404)
  for (const one of [id, simple]) await request.patch(`/api/songs/${one}`, { data: { archived: true } })
})

test("what is kept beside the passes says what they say: sums by the player's days, and a pass that comes late", async ({
  playwright,
  baseURL,
}) => {
  const api = await playwright.request.newContext({ baseURL })
  await api.post('/api/accounts', {
    data: { name: `Sums ${randomUUID().slice(0, 8)}`, password: 'a long enough password' },
  })
  const { id } = (await (
    await api.post('/api/songs?name=sums.txt', {
      data: Buffer.from('title: Sums\n[A]\n| C | F |'),
      headers: { 'content-type': 'application/octet-stream' },
    })
  ).json()) as { id: string }
  const { parts } = (await (await api.get(`/api/songs/${id}`)).json()) as { parts: { id: string }[] }
  const send = async (startedAt: string, bpm = 60) =>
    expect((await api.post('/api/passes', { data: { ...pass(parts[0]!.id), startedAt, bpm } })).status()).toBe(201)
  type Book = { days: { day: string; passes: number; minutes: number }[]; songs: { passes: number }[] }
  const days = async (query = '') =>
    ((await (await api.get(`/api/logbook${query}`)).json()) as Book).days.map(({ day, passes, minutes }) => [
      day,
      passes,
      Math.round(100 * minutes) / 100,
    ])
  const stairs = async () =>
    (await (await api.get(`/api/songs/${id}`)).json()) as {
      stairs: { parts: { hands: string; passes: number }[][] }
      forecast: { days: { day: string; minutes: number }[] }
    }

  // Enough of them that a record is kept, then one more on top of it.
  for (let minute = 10; minute < 40; minute++) await send(`2026-05-04T22:${minute}:00.000Z`)
  expect((await stairs()).forecast.days.map(one => one.day)).toEqual(['2026-05-04'])
  await send('2026-05-06T09:00:00.000Z')
  expect(await days()).toEqual([
    ['2026-05-04', 30, 8],
    ['2026-05-06', 1, 0.27],
  ])
  expect((await stairs()).stairs.parts[0]!.find(stage => stage.hands === 'right')!.passes).toBe(31)
  // It was played before all of them, and comes now.
  await send('2026-05-01T09:00:00.000Z', 80)
  const late = await stairs()
  expect(late.stairs.parts[0]!.find(stage => stage.hands === 'right')!.passes).toBe(32)
  expect(late.forecast.days.map(one => one.day)).toEqual(['2026-05-01', '2026-05-04', '2026-05-06'])
  // Where it is already tomorrow.
  expect((await api.patch('/api/settings', { data: { timeZone: 'Asia/Tokyo' } })).ok()).toBe(true)
  expect(await days()).toEqual([
    ['2026-05-01', 1, 0.27],
    ['2026-05-05', 30, 8],
    ['2026-05-06', 1, 0.27],
  ])
  expect((await stairs()).forecast.days.map(one => one.day)).toEqual(['2026-05-01', '2026-05-05', '2026-05-06'])
  expect(await days('?from=2026-05-05T18:00:00.000Z&hands=right')).toEqual([['2026-05-06', 1, 0.27]])
  expect(await days('?hands=left')).toEqual([])
})

test('editions are made from a song with their parts, drills with a part for each key, patterns kept, changed and deleted; what cannot be is said', async ({
  request,
}) => {
  const { songId } = await firstPart(request)
  const base = (await (await request.get(`/api/songs/${songId}`)).json()) as {
    parts: { name: string }[]
    fifths: number
  }
  const make = async (making: unknown) =>
    await request.post(`/api/songs/${songId}/editions`, { data: { edition: 'another', making } })
  for (const making of [
    { kind: 'pattern', hand: 'left', pattern: PATTERN },
    { kind: 'level', level: 1 },
    { kind: 'key', halfSteps: 2 },
  ]) {
    const answer = await make(making)
    expect(answer.status(), await answer.text()).toBe(201)
    const made = (await (await request.get(`/api/songs/${((await answer.json()) as { id: string }).id}`)).json()) as {
      parts: { name: string }[]
      fifths: number
      origin: { kind: string; of: string }
      editions: unknown[]
    }
    expect(made.parts.map(part => part.name)).toEqual(base.parts.map(part => part.name))
    expect([made.origin.kind, made.origin.of]).toEqual([making.kind, songId])
    expect(made.fifths).toBe(making.kind === 'key' ? base.fifths + 2 : base.fifths)
  }
  const waltz = await make({
    kind: 'pattern',
    hand: 'left',
    pattern: { ...PATTERN, cycles: [{ beats: 3, division: 1, bars: [{ bass: 'x..', upper: '.xx' }] }] },
  })
  expect([waltz.status(), ((await waltz.json()) as { message: string }).message]).toEqual([
    422,
    'the pattern "Mine" is for 3/4, and the music is in 4/4',
  ])

  const recipe = {
    title: 'Scales',
    material: { kind: 'scale', scale: 'major', octaves: 1 },
    keys: { order: 'fifths' },
    meter: { beats: 4, beatType: 4 },
    bpm: 80,
  }
  const { id: drillId, partId } = (await (await request.post('/api/drills', { data: recipe })).json()) as {
    id: string
    partId: string
  }
  const drill = (await (await request.get(`/api/songs/${drillId}`)).json()) as {
    parts: { id: string; name: string }[]
    role: string
  }
  expect([drill.role, drill.parts.length, drill.parts[0]!.id, drill.parts[1]!.name]).toEqual([
    'drill',
    12,
    partId,
    'G major',
  ])
  expect(((await (await request.get('/api/songs')).json()) as { id: string }[]).some(song => song.id === drillId)).toBe(
    false,
  )
  expect(await (await request.get('/api/drills')).json()).toMatchObject([
    { id: drillId, title: 'Scales', role: 'drill', leastEven: null },
  ])
  expect(
    (await request.post('/api/drills', { data: { ...recipe, keys: { order: 'one', from: 'G#' } } })).status(),
  ).toBe(422)
  expect((await request.post('/api/drills', { data: { ...recipe, material: { kind: 'song' } } })).status()).toBe(400)
  expect(await (await request.get('/api/drills/keys')).json()).toMatchObject({
    major: expect.arrayContaining(['G']) as unknown,
  })

  const { id } = (await (await request.post('/api/patterns', { data: PATTERN })).json()) as { id: string }
  expect((await request.put(`/api/patterns/${id}`, { data: { ...PATTERN, name: 'Ours' } })).status()).toBe(204)
  expect(await (await request.get('/api/patterns')).json()).toMatchObject([{ id, pattern: { name: 'Ours' } }])
  expect(
    (
      await request.post('/api/patterns', {
        data: { ...PATTERN, cycles: [{ beats: 4, division: 1, bars: [{ tuba: 'x' }] }] },
      })
    ).status(),
  ).toBe(400)
  expect((await request.delete(`/api/patterns/${id}`)).status()).toBe(204)
  expect(await (await request.get('/api/patterns')).json()).toEqual([])
})

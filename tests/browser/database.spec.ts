import { randomUUID } from 'node:crypto'
import pg from 'pg'
// @ts-expect-error -- a plain script, shared with the start command
import { startApplication } from '../../scripts/application.mjs'
// @ts-expect-error -- a plain script, shared with the start command
import { freePort } from '../../scripts/postgres.mjs'
import { expect, test } from '../material/player'

const connect = async () => {
  const client = new pg.Client({ connectionString: process.env.DATABASE_URL })
  await client.connect()
  return client
}

test('no row can belong to another player than the song it is part of', async () => {
  const db = await connect()
  try {
    const {
      rows: [stranger],
    } = await db.query<{ id: string }>('insert into accounts (name) values ($1) returning id', [
      `Stranger ${randomUUID()}`,
    ])
    const {
      rows: [song],
    } = await db.query<{ id: string }>("select id from songs where title = 'The Lantern Ferry'")
    const {
      rows: [arrangement],
    } = await db.query<{ id: string }>('select id from arrangements where song_id = $1', [song!.id])
    await expect(
      db.query(
        "insert into arrangements (owner_id, song_id, revision, bars, document, music_xml) values ($1, $2, 9, 1, '{}', '')",
        [stranger!.id, song!.id],
      ),
    ).rejects.toThrow('arrangements_song')
    await expect(
      db.query(
        "insert into parts (owner_id, arrangement_id, place, name, from_n, from_d, to_n, to_d) values ($1, $2, 99, 'x', 0, 1, 1, 1)",
        [stranger!.id, arrangement!.id],
      ),
    ).rejects.toThrow('parts_arrangement')
    await expect(db.query("insert into accounts (name, is_demo) values ('Second demo', true)")).rejects.toThrow(
      'accounts_one_demo',
    )
  } finally {
    await db.end()
  }
})

test('a part that is taken away leaves its passes in the Logbook', async ({ request }) => {
  const songs = (await (await request.get('/api/songs')).json()) as { id: string; title: string }[]
  const song = songs.find(one => one.title === 'Snow on the Towpath')!
  const { parts } = (await (await request.get(`/api/songs/${song.id}`)).json()) as {
    parts: { id: string; name: string }[]
  }
  const part = parts.at(-1)!
  const id = randomUUID()
  await request.post('/api/passes', {
    data: {
      id,
      partId: part.id,
      hands: 'both',
      bpm: 60,
      startedAt: '2026-02-01T18:00:00.000Z',
      lengthMs: 12_000,
      offsetMs: 0,
      take: { notes: [], pedals: [] },
    },
  })
  const db = await connect()
  try {
    await db.query('delete from parts where id = $1', [part.id])
  } finally {
    await db.end()
  }
  const passes = (await (await request.get('/api/passes?limit=500')).json()) as {
    id: string
    partId: string | null
    partName: string
  }[]
  expect(passes.find(pass => pass.id === id)).toMatchObject({ partId: null, partName: part.name })
})

test('a pass that an older ear judged is judged anew from its take: the review says so, sums and record follow, and what was reached stays', async ({
  request,
  page,
}) => {
  const songs = (await (await request.get('/api/songs')).json()) as { id: string; title: string }[]
  const song = songs.find(one => one.title === 'The Lantern Ferry')!
  const { parts } = (await (await request.get(`/api/songs/${song.id}`)).json()) as { parts: { id: string }[] }
  const id = randomUUID()
  const take = {
    notes: [
      { onsetMs: -20, durationMs: 500, pitch: 62, velocity: 70 },
      { onsetMs: 1030, durationMs: 900, pitch: 67, velocity: 72 },
    ],
    pedals: [{ atMs: 100, down: true }],
  }
  await request.post('/api/passes', {
    data: {
      id,
      partId: parts[0]!.id,
      hands: 'right',
      bpm: 60,
      startedAt: '2026-02-03T18:00:00.000Z',
      lengthMs: 16_000,
      offsetMs: 10,
      strictness: 'strict',
      take,
    },
  })
  interface Review {
    assessment: { ear: number; strictness: string; notes: unknown[]; findings: { kind: string }[] }
    cleanBefore: boolean | null
  }
  const review = async () => (await (await request.get(`/api/passes/${id}/review`)).json()) as Review
  const now = await review()
  expect(now).toMatchObject({ assessment: { strictness: 'strict' }, cleanBefore: null })
  const db = await connect()
  try {
    const sum = async () =>
      (await db.query<{ clean: string }>("select sum(clean) as clean from sums where day = '2026-02-03'")).rows[0]!
        .clean
    // As the first ear left it: a verdict of its own, a sentence in words, no findings as data.
    await db.query(
      `update passes set ear = 1, clean = true, clean_but = '{}', found = null, sentence = 'Clean: every note right and in time.' where id = $1`,
      [id],
    )
    await db.query(
      `update assessments set document = jsonb_set(document - 'ear', '{findings}', '[{"kind": "clean", "text": "Clean: every note right and in time."}]') where pass_id = $1`,
      [id],
    )
    const anew = await review()
    expect(anew.assessment).toEqual(now.assessment)
    expect(anew.cleanBefore).toBe(true)
    const {
      rows: [row],
    } = await db.query<{
      clean: boolean
      clean_before: boolean
      ear: number
      found: { kind: string }[]
      sentence: string | null
    }>('select clean, clean_before, ear, found, sentence from passes where id = $1', [id])
    expect(row).toMatchObject({ clean: false, clean_before: true, ear: now.assessment.ear, sentence: null })
    expect(row!.found.map(one => one.kind)).toEqual(now.assessment.findings.slice(0, 2).map(one => one.kind))
    expect(Number(await sum())).toBe(0)
    // Read once more, the verdict of the first ear is still remembered.
    expect((await review()).cleanBefore).toBe(true)
  } finally {
    await db.end()
  }
  await page.goto(`/passes/${id}`)
  await expect(
    page.getByText('It counted as clean then and is not clean now. Steps you reached with it stay reached.'),
  ).toBeVisible()
})

test('a pass of an older ear keeps its sentence until it is judged anew, and is so when the Logbook lists it', async ({
  playwright,
  baseURL,
}) => {
  const api = await playwright.request.newContext({ baseURL })
  await api.post('/api/accounts', {
    data: { name: `Older ${randomUUID().slice(0, 8)}`, password: 'a long enough password' },
  })
  const { id: songId } = (await (
    await api.post('/api/songs?name=older.txt', {
      data: Buffer.from('title: Older\n| C | F |'),
      headers: { 'content-type': 'application/octet-stream' },
    })
  ).json()) as { id: string }
  const { parts } = (await (await api.get(`/api/songs/${songId}`)).json()) as { parts: { id: string }[] }
  const id = randomUUID()
  await api.post('/api/passes', {
    data: {
      id,
      partId: parts[0]!.id,
      hands: 'left',
      bpm: 60,
      startedAt: '2026-02-03T18:00:00.000Z',
      lengthMs: 16_000,
      offsetMs: 0,
      take: { notes: [], pedals: [] },
    },
  })
  const db = await connect()
  try {
    await db.query(`update passes set ear = 1, found = null, sentence = 'Nothing was played.' where id = $1`, [id])
  } finally {
    await db.end()
  }
  expect(await (await api.get('/api/passes?limit=5')).json()).toMatchObject([
    { id, found: [{ kind: 'nothing-played' }], sentence: null },
  ])
})

test('passes from before the coach are given the name of their notes and where they failed, when the server starts', async ({
  request,
}) => {
  const songs = (await (await request.get('/api/songs')).json()) as { id: string; title: string }[]
  const song = songs.find(one => one.title === 'The Lantern Ferry')!
  const { parts } = (await (await request.get(`/api/songs/${song.id}`)).json()) as { parts: { id: string }[] }
  const id = randomUUID()
  await request.post('/api/passes', {
    data: {
      id,
      partId: parts[0]!.id,
      hands: 'right',
      bpm: 60,
      startedAt: '2026-02-04T18:00:00.000Z',
      lengthMs: 16_000,
      offsetMs: 0,
      take: { notes: [{ onsetMs: 0, durationMs: 500, pitch: 62, velocity: 70 }], pedals: [] },
    },
  })
  const db = await connect()
  try {
    const row = async () =>
      (
        await db.query<{ notes_key: string | null; failed: unknown[] | null }>(
          'select notes_key, failed from passes where id = $1',
          [id],
        )
      ).rows[0]!
    const sums = async () =>
      (
        await db.query(
          'select owner_id, day, song_id, hands, notes_key, sum(passes), sum(clean), sum(length_ms), max(clean_bpm) from sums where song_id = $1 group by 1, 2, 3, 4, 5 order by 1, 2, 3, 4, 5',
          [song.id],
        )
      ).rows
    const [before, sumsBefore] = [await row(), await sums()]
    await db.query('update passes set notes_key = null, failed = null where id = $1', [id])
    const copy = (await startApplication({
      port: await freePort(),
      databaseUrl: process.env.DATABASE_URL,
      password: 'a password for the tests alone, forty letters',
      environment: { HALF_STEP_DEMO: '1' },
    })) as { url: string; stop: () => Promise<void> }
    await fetch(`${copy.url}/api/health`)
    await copy.stop()
    expect(before.notes_key).not.toBeNull()
    expect(before.failed!.length).toBeGreaterThan(5)
    expect(await row()).toEqual(before)
    expect(await sums()).toEqual(sumsBefore)
  } finally {
    await db.end()
  }
})

test('a second copy of the server beside the same database serves the same accounts, and neither loses a pass', async ({
  playwright,
  request,
  baseURL,
}) => {
  const second = (await startApplication({
    port: await freePort(),
    databaseUrl: process.env.DATABASE_URL,
    password: 'a password for the tests alone, forty letters',
    environment: { HALF_STEP_DEMO: '1' },
  })) as { url: string; stop: () => Promise<void> }
  try {
    const name = `Both ${randomUUID().slice(0, 8)}`
    const first = await playwright.request.newContext({ baseURL })
    expect((await first.post('/api/accounts', { data: { name, password: 'a long enough password' } })).status()).toBe(
      201,
    )
    const cookie = (await first.storageState()).cookies.map(one => `${one.name}=${one.value}`).join('; ')
    const session = (await (await fetch(`${second.url}/api/_auth/session`, { headers: { cookie } })).json()) as {
      user: { name: string }
    }
    expect(session.user.name).toBe(name)

    const songs = (await (await request.get('/api/songs')).json()) as { id: string }[]
    const { parts } = (await (await request.get(`/api/songs/${songs[0]!.id}`)).json()) as { parts: { id: string }[] }
    const pass = {
      id: randomUUID(),
      partId: parts[0]!.id,
      hands: 'right',
      bpm: 60,
      startedAt: '2026-02-02T18:00:00.000Z',
      lengthMs: 16_000,
      offsetMs: 0,
      take: { notes: [], pedals: [] },
    }
    const other = await playwright.request.newContext({ baseURL: second.url })
    const answers = await Promise.all(
      [request, other, request, other].map(api => api.post('/api/passes', { data: pass })),
    )
    expect(answers.map(answer => answer.status())).toEqual([201, 201, 201, 201])
    const kept = (await (await other.get('/api/passes?limit=500')).json()) as { id: string }[]
    expect(kept.filter(one => one.id === pass.id)).toHaveLength(1)
  } finally {
    await second.stop()
  }
})

import { randomUUID } from 'node:crypto'
import { request as httpRequest } from 'node:http'
import { expect, test, type APIRequestContext } from '@playwright/test'

const firstPart = async (api: APIRequestContext) => {
  const songs = await (await api.get('/api/songs')).json() as { id: string, title: string }[]
  const song = songs.find(one => one.title === 'The Lantern Ferry')
  const { parts } = await (await api.get(`/api/songs/${song!.id}`)).json() as { parts: { id: string }[] }
  return { songId: song!.id, partId: parts[0]!.id }
}
const pass = (partId: string, id: string = randomUUID()) => ({
  id, partId, hands: 'right', bpm: 60, startedAt: '2026-01-02T18:00:00.000Z', lengthMs: 16_000, offsetMs: 0,
  take: { notes: [{ onsetMs: 3, durationMs: 800, pitch: 62, velocity: 70 }], pedals: [] },
})

/** A request as raw as a script outside a browser could send it. */
const raw = (base: string, path: string, options: { method?: string, headers?: Record<string, string>, body?: string }) =>
  new Promise<number>((resolve, reject) => {
    const sent = httpRequest(new URL(path, base), { method: options.method ?? 'GET', headers: options.headers, agent: false }, (answer) => {
      answer.resume()
      resolve(answer.statusCode!)
    })
    sent.on('error', reject)
    if (options.body !== undefined) sent.write(options.body)
    sent.end()
  })

test('one player\'s songs, parts, passes and takes are not there for another', async ({ playwright, baseURL, request }) => {
  const { songId, partId } = await firstPart(request)
  const kept = pass(partId)
  expect((await request.post('/api/passes', { data: kept })).status()).toBe(201)

  const other = await playwright.request.newContext({ baseURL })
  const name = `Other ${randomUUID().slice(0, 8)}`
  expect((await other.post('/api/players', { data: { name, password: 'a long enough password' } })).status()).toBe(201)
  expect(await (await other.get('/api/songs')).json()).toEqual([])
  for (const path of [`/api/songs/${songId}`, `/api/parts/${partId}`, `/api/passes/${kept.id}`, `/api/passes/${kept.id}/take`, `/api/passes/${kept.id}/review`]) {
    expect((await other.get(path)).status(), path).toBe(404)
  }
  expect((await other.delete(`/api/songs/${songId}`)).status()).toBe(404)
  expect((await other.post('/api/passes', { data: pass(partId) })).status()).toBe(404)
  expect((await other.post(`/api/songs/${songId}/recordings`, { data: Buffer.from('MThd'), headers: { 'content-type': 'application/octet-stream' } })).status()).toBe(404)
  expect(await (await other.get('/api/passes')).json()).toEqual([])

  expect((await other.post('/api/players', { data: { name: name.toUpperCase(), password: 'a long enough password' } })).status()).toBe(409)
  expect((await other.post('/api/session', { data: { name, password: 'not the password at all' } })).status()).toBe(401)
  expect((await other.post('/api/session', { data: { name, password: 'a long enough password' } })).status()).toBe(200)
})

test('a pass sent twice is kept once, with the assessment the core gives', async ({ request }) => {
  const { partId } = await firstPart(request)
  const sent = pass(partId)
  for (let times = 0; times < 2; times++) expect((await request.post('/api/passes', { data: sent })).status()).toBe(201)
  const passes = await (await request.get('/api/passes?limit=500')).json() as { id: string, right: number, missed: number }[]
  expect(passes.filter(one => one.id === sent.id)).toMatchObject([{ right: 1, missed: 13 }])
  const assessment = await (await request.get(`/api/passes/${sent.id}`)).json() as { notes: { deviationMs: number }[] }
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
    [{ ...good, take: { notes: [{ onsetMs: 0, durationMs: 1, pitch: 200, velocity: 1 }], pedals: [] } }, '"take.notes[0].pitch" must be less than or equal to 127'],
  ] as const) {
    const answer = await request.post('/api/passes', { data: body })
    expect(answer.status()).toBe(400)
    expect((await answer.json() as { message: string }).message).toContain(words)
  }
  expect((await request.post('/api/passes', { data: '{"id":', headers: { 'content-type': 'application/json' } })).status()).toBe(400)
  expect((await request.get('/api/songs/not-an-id')).status()).toBe(400)
  expect((await request.get('/api/passes?limit=100000')).status()).toBe(400)
})

test('settings are checked, and each player has their own', async ({ playwright, baseURL, request }) => {
  expect(await (await request.get('/api/settings')).json()).toEqual({ strictness: 'normal', keyboardDelayMs: 0 })
  for (const [body, words] of [[{ strictness: 'cruel' }, '"strictness" must be one of'], [{ keyboardDelayMs: 9000 }, 'less than or equal to 500'], [{}, 'at least 1 key'], [{ isDemo: false }, 'is not allowed']] as const) {
    const answer = await request.patch('/api/settings', { data: body })
    expect(answer.status()).toBe(400)
    expect((await answer.json() as { message: string }).message).toContain(words)
  }
  const other = await playwright.request.newContext({ baseURL })
  await other.post('/api/players', { data: { name: `Setter ${randomUUID().slice(0, 8)}`, password: 'a long enough password' } })
  expect(await (await other.patch('/api/settings', { data: { strictness: 'gentle' } })).json()).toEqual({ strictness: 'gentle', keyboardDelayMs: 0 })
  expect(await (await request.get('/api/settings')).json()).toEqual({ strictness: 'normal', keyboardDelayMs: 0 })
})

test('sizes are limited, also of bodies that do not tell theirs', async ({ baseURL }) => {
  const json = { 'content-type': 'application/json' }
  expect(await raw(baseURL!, '/api/passes', { method: 'POST', headers: { ...json, 'transfer-encoding': 'chunked' }, body: '{}' })).toBe(411)
  expect(await raw(baseURL!, '/api/passes', { method: 'POST', headers: { ...json, 'content-length': '3000000' }, body: '' }).catch(() => 413)).toBe(413)
})

test('only this machine\'s own pages are signed in by the demo or may change anything', async ({ baseURL }) => {
  expect(await raw(baseURL!, '/api/songs', {})).toBe(200)
  expect(await raw(baseURL!, '/api/songs', { headers: { host: 'half-step.example' } })).toBe(401)
  expect(await raw(baseURL!, '/api/songs', { headers: { 'x-forwarded-for': '203.0.113.9' } })).toBe(401)
  expect(await raw(baseURL!, '/api/songs', { method: 'POST', headers: { origin: 'http://elsewhere.example', 'content-length': '0' } })).toBe(403)
})

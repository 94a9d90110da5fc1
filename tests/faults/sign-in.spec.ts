/** Who guesses is slowed down and learns nothing; sessions end when they are ended. */
import { randomUUID } from 'node:crypto'
import pg from 'pg'
import { expect, test, type APIRequest, type APIRequestContext } from '@playwright/test'
import { percentile } from '../material/patience'

/** From another machine, as far as the server can see: the demo's player is not there. */
const ELSEWHERE = { 'x-forwarded-for': '203.0.113.9' }
const PASSWORD = 'a long enough password'
const visitor = async (request: APIRequest, baseURL: string, more = {}) =>
  await request.newContext({
    baseURL,
    storageState: { cookies: [], origins: [] },
    extraHTTPHeaders: { ...ELSEWHERE, origin: baseURL, ...more },
  })
const register = async (context: APIRequestContext, name: string, password = PASSWORD) =>
  await context.post('/api/accounts', { data: { name, password } })
const signIn = async (context: APIRequestContext, name: string, password = PASSWORD) =>
  await context.post('/api/session', { data: { name, password } })
const someone = (what: string) => `${what} ${randomUUID().slice(0, 8)}`

test('too many tries are slowed down and it is said, whoever else signs in', async ({ playwright, baseURL }) => {
  const one = await visitor(playwright.request, baseURL!)
  const name = someone('Guessed')
  expect((await register(one, name)).status()).toBe(201)
  const answers: number[] = []
  for (let count = 0; count < 10; count++) answers.push((await signIn(one, name, `wrong password ${count}`)).status())
  expect(answers).toEqual([401, 401, 401, 401, 401, 401, 401, 401, 429, 429])
  const refused = await signIn(one, name)
  expect([
    refused.status(),
    Number(refused.headers()['retry-after']) > 0,
    ((await refused.json()) as { message: string }).message,
  ]).toEqual([429, true, expect.stringMatching(/^too many tries; please wait \d+ (seconds|minutes) and try again$/)])
  // Another name from there is not kept waiting.
  expect((await register(one, someone('Other'))).status()).toBe(201)
})

test('an unknown name takes the same work and gets the same answer', async ({ playwright, baseURL }) => {
  const one = await visitor(playwright.request, baseURL!)
  const names = [someone('Known'), someone('Known too')]
  for (const name of names) await register(one, name)
  const timed = async (name: string) => {
    const began = performance.now()
    const answer = await signIn(one, name, 'not the password')
    return {
      ms: performance.now() - began,
      told: `${answer.status()} ${((await answer.json()) as { message: string }).message}`,
    }
  }
  const found: { ms: number; told: string }[] = []
  const unknown: typeof found = []
  for (let count = 0; count < 7; count++) {
    for (const name of names) found.push(await timed(name))
    for (let other = 0; other < 2; other++) unknown.push(await timed(someone('Unknown')))
  }
  expect(new Set([...found, ...unknown].map(answer => answer.told)).size).toBe(1)
  const median = (all: typeof found) =>
    percentile(
      all.map(answer => answer.ms).sort((a, b) => a - b),
      0.5,
    )
  console.log(
    `a wrong password: ${median(found).toFixed(1)} ms for a known name, ${median(unknown).toFixed(1)} ms for an unknown one`,
  )
  expect(median(unknown) / median(found)).toBeGreaterThan(0.4)
})

test('common passwords are refused, and names are what people see', async ({ playwright, baseURL }) => {
  const one = await visitor(playwright.request, baseURL!)
  const name = someone('Zoë')
  for (const password of ['1234567890', 'qwertyuiop', 'password123', 'aaaaaaaaaaaa', `${name} 1`])
    expect((await register(one, name, password)).status(), password).toBe(422)
  expect((await register(one, `  ${name.normalize('NFD')}  `)).status()).toBe(201)
  for (const same of [name.normalize('NFC').toUpperCase(), name.replace(' ', '\u00A0 '), name.replace('Z', '\uFF3A')])
    expect((await register(one, same)).status(), same).toBe(409)
  for (const bad of ['a\u0000b', '\uD83D', '\u0007', ' \u2003 '])
    expect((await register(one, bad)).status(), JSON.stringify(bad)).toBe(400)
  const two = await visitor(playwright.request, baseURL!)
  expect((await signIn(two, name.normalize('NFC'))).status()).toBe(200)
})

test('a cookie counts until its session is ended: here, everywhere, or with the account; and nothing of it is kept on the way', async ({
  playwright,
  baseURL,
}) => {
  const name = someone('Ended')
  const here = await visitor(playwright.request, baseURL!)
  await register(here, name)
  const copied = async (from: APIRequestContext) =>
    await visitor(playwright.request, baseURL!, {
      cookie: (await from.storageState()).cookies.map(one => `${one.name}=${one.value}`).join('; '),
    })
  const copy = await copied(here)
  const answer = await copy.get('/api/settings')
  expect([answer.status(), answer.headers()['cache-control']]).toEqual([200, 'no-store'])
  await here.delete('/api/_auth/session')
  expect((await copy.get('/api/settings')).status()).toBe(401)
  expect(((await (await copy.get('/api/_auth/session')).json()) as { user?: unknown }).user).toBeUndefined()
  const [first, second] = [await visitor(playwright.request, baseURL!), await visitor(playwright.request, baseURL!)]
  for (const one of [first, second]) expect((await signIn(one, name)).status()).toBe(200)
  const later = await copied(second)
  expect((await first.delete('/api/sessions')).status()).toBe(204)
  for (const one of [first, second, later]) expect((await one.get('/api/settings')).status()).toBe(401)
  expect((await signIn(first, name)).status()).toBe(200)
  const client = new pg.Client({ connectionString: process.env.DATABASE_URL })
  await client.connect()
  await client.query('delete from accounts where name = $1', [name])
  await client.end()
  expect((await first.get('/api/settings')).status()).toBe(401)
  // The demo's player is there for nobody who comes from anywhere else, whatever says so.
  for (const header of ['x-forwarded-for', 'forwarded', 'x-real-ip', 'via', 'x-forwarded-host']) {
    const demo = await playwright.request.newContext({
      baseURL,
      storageState: { cookies: [], origins: [] },
      extraHTTPHeaders: { [header]: '203.0.113.9' },
    })
    expect((await demo.get('/api/songs')).status(), header).toBe(401)
  }
})

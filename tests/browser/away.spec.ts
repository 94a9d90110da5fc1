/** Practice goes on while the server is away: pages open, the Stand works, and nothing is lost, with a reload in the middle of it. */
import type { Page } from '@playwright/test'
import { expect, test } from '@playwright/test'
import { startOwn, type OwnProgram } from '../material/own'
import { attributes, pianoScore, quarterNotes } from '../material/score'

test.use({ serviceWorkers: 'allow' })
test.setTimeout(300_000)

const PASSES = 40
const [BPM, FIRST, SECOND] = [290, 6, 22]

let program: OwnProgram
test.beforeAll(async () => { program = await startOwn() })
test.afterAll(async () => { await program?.end() })

/** Passes that wait in the browser. */
const waiting = async (page: Page): Promise<{ id: string, startedAt: string }[]> => await page.evaluate(async () => {
  const db = await new Promise<IDBDatabase>((resolve, reject) => {
    const opening = indexedDB.open('half-step', 1)
    opening.onsuccess = () => resolve(opening.result)
    opening.onerror = () => reject(new Error('no database'))
  })
  const asked = db.transaction('passes').objectStore('passes').getAll()
  await new Promise((resolve) => { asked.onsuccess = resolve })
  db.close()
  return (asked.result as { id: string, startedAt: string }[]).map(({ id, startedAt }) => ({ id, startedAt }))
})

/** Sits down at the Stand with the simulated player and lets the loop run until so many passes are over since then. */
async function practise(page: Page, count: number) {
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
  await page.getByRole('button', { name: /No keyboard yet|Simulated player/ }).click()
  const simulated = page.getByRole('switch', { name: 'Simulated player' })
  if (await simulated.getAttribute('aria-checked') !== 'true') await simulated.click()
  await page.keyboard.press('Escape')
  await page.locator('h1').click()
  await page.keyboard.press('Space')
  await expect(page.locator('.figures')).toContainText(`Pass ${count}`, { timeout: 90_000 })
  await page.keyboard.press('Space')
}

test('a server that stops in the middle of a session of 40 passes has them all when it is back, in order, and folded as if it had never been away', async ({ browser, playwright }) => {
  const context = await browser.newContext({ baseURL: program.url, serviceWorkers: 'allow' })
  const page = await context.newPage()
  await page.goto('/')
  await page.getByLabel('Name').fill('Ines')
  await page.getByRole('button', { name: 'Begin' }).click()
  await expect(page.getByRole('heading', { name: 'Your keyboard' })).toBeVisible()
  const score = pianoScore([attributes() + quarterNotes('C4 D4 E4 F4'), quarterNotes('G4 F4 E4 C4')])
  expect((await page.request.post('/api/songs?name=two-bars.musicxml', { data: Buffer.from(score), headers: { 'content-type': 'application/octet-stream' } })).status()).toBe(201)
  const [song] = await (await page.request.get('/api/songs')).json() as { id: string, title: string }[]
  const { parts } = await (await page.request.get(`/api/songs/${song!.id}`)).json() as { parts: { id: string }[] }
  const stand = `/stand/${parts[0]!.id}?hands=right&bpm=${BPM}`

  // The worker comes when the first page rests; from then on what is practised is kept.
  await page.evaluate(async () => { await navigator.serviceWorker.ready })
  await page.goto('/')
  await expect.poll(async () => await page.evaluate(async part => (await (await caches.open('half-step-answers')).keys()).some(one => one.url.includes(part)), `/api/parts/${parts[0]!.id}`), { timeout: 30_000 }).toBe(true)
  await page.goto(stand)
  await practise(page, FIRST)
  await expect.poll(async () => (await waiting(page)).length).toBe(0)
  const before = (await (await page.request.get('/api/passes?limit=500')).json() as unknown[]).length

  await program.stop()
  await page.keyboard.press('Space')
  await expect(page.locator('.figures')).toContainText(`Pass ${SECOND}`, { timeout: 120_000 })
  await page.keyboard.press('Space')
  // A page that is opened anew, and one that was not looked at before, come from the browser.
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Today', exact: true })).toBeVisible({ timeout: 30_000 })
  await expect(page.getByText('The server does not answer. Practise on')).toBeVisible()
  await expect(page.getByText('What you see was kept')).toBeVisible()
  await page.goto(stand)
  const soFar = before + (await waiting(page)).length
  await practise(page, PASSES - soFar)
  await expect(page.getByText(/passes waiting to be saved/)).toBeVisible()
  const all = await waiting(page)
  expect(before + all.length).toBeGreaterThanOrEqual(PASSES)

  await program.startAgain()
  await expect.poll(async () => (await waiting(page)).length, { timeout: 60_000 }).toBe(0)
  const kept = await (await page.request.get('/api/passes?limit=500')).json() as { id: string, startedAt: string }[]
  expect(kept).toHaveLength(before + all.length)
  const ids = kept.map(pass => pass.id)
  for (const { id } of all) expect(ids).toContain(id)
  expect(kept.map(pass => pass.startedAt)).toEqual(kept.map(pass => pass.startedAt).toSorted().toReversed())

  // Made anew from the passes alone, in another account, the stairs are the same.
  const at = new Date().toISOString()
  const archive = await (await page.request.get('/api/archive')).body()
  expect((await page.request.put('/api/account/password', { data: { password: 'a password of a test' }, headers: { origin: program.url } })).status()).toBe(204)
  const other = await playwright.request.newContext({ baseURL: program.url, extraHTTPHeaders: { origin: program.url } })
  expect((await other.post('/api/accounts', { data: { name: 'Somebody else', password: 'a password of a test' } })).status()).toBe(201)
  expect((await (await other.post('/api/archive', { data: archive, headers: { 'content-type': 'application/gzip' } })).text())).toContain('"restored"')
  const stairs = async (api: typeof other) => {
    const [only] = await (await api.get('/api/songs')).json() as { id: string }[]
    const { stairs: its } = await (await api.get(`/api/songs/${only!.id}?at=${at}`)).json() as { stairs: object }
    return its
  }
  expect(await stairs(other)).toEqual(await stairs(page.request))
  await context.close()
})

/**
 * Practice goes on while the server is away: pages open, the Stand works, and nothing is lost, with a reload in the
 * middle of it.
 */
import { once } from 'node:events'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { APIRequestContext, Browser, Page, PlaywrightWorkerArgs } from '@playwright/test'
import { expect, test } from '@playwright/test'
import { createProxyServer } from 'httpxy'
import { BUSY_HEADER } from '../../shared/utils/kept-answers'
import { written } from '../material/archives'
import { runOnTestClock } from '../material/test-clock'
import { startOwn, type OwnProgram } from '../material/own'
import { attributes, pianoScore, quarterNotes } from '../material/score'

test.use({ serviceWorkers: 'allow' })
test.setTimeout(300_000)

const PASSES = 40
const [BPM, FIRST, SECOND] = [290, 6, 22]
/** Passes of each of two devices while they are apart. */
const APART = [2, 3] as const

let program: OwnProgram
test.beforeEach(async () => {
  program = await startOwn()
})
test.afterEach(async () => {
  await program?.end()
})

/** Passes that wait in the browser. */
const waiting = async (page: Page): Promise<{ id: string; startedAt: string }[]> =>
  await page.evaluate(async () => {
    const db = await new Promise<IDBDatabase>((resolve, reject) => {
      const opening = indexedDB.open('half-step', 1)
      opening.onsuccess = () => resolve(opening.result)
      opening.onerror = () => reject(new Error('no database'))
    })
    const asked = db.transaction('passes').objectStore('passes').getAll()
    await new Promise(resolve => {
      asked.onsuccess = resolve
    })
    db.close()
    return (asked.result as { id: string; startedAt: string }[]).map(({ id, startedAt }) => ({ id, startedAt }))
  })

/** Waits until so many passes were played since the Stand was opened. */
async function reaches(page: Page, count: number) {
  const played = async () =>
    Number((await page.locator('.figures > span:first-child').allTextContents()).join('').replace('Pass ', ''))
  await expect.poll(played, { timeout: 90_000, intervals: [100] }).toBeGreaterThanOrEqual(count)
}

/** Sits down at the Stand with the simulated player and lets the loop run until so many passes are over since then. */
async function practise(page: Page, count: number) {
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
  await page.getByRole('button', { name: /No keyboard yet|Simulated player/ }).click()
  const simulated = page.getByRole('switch', { name: 'Simulated player' })
  if ((await simulated.getAttribute('aria-checked')) !== 'true') await simulated.click()
  await page.keyboard.press('Escape')
  await page.locator('h1').click()
  await page.keyboard.press('Space')
  await reaches(page, count)
  await page.keyboard.press('Space')
}

/** A browser in which somebody called Ines has begun, and its only part: two bars. */
async function begun(browser: Browser, url = program.url): Promise<{ page: Page; part: string }> {
  const page = await deviceOf(browser, url)
  await page.goto('/')
  await page.getByLabel('Name').fill('Ines')
  await page.getByRole('button', { name: 'Begin' }).click()
  await expect(page.getByRole('heading', { name: 'Your keyboard' })).toBeVisible()
  const score = pianoScore([attributes({ beats: 2 }) + quarterNotes('C4 D4'), quarterNotes('G4 C4')])
  expect(
    (
      await page.request.post('/api/songs?name=two-bars.musicxml', {
        data: Buffer.from(score),
        headers: { 'content-type': 'application/octet-stream' },
      })
    ).status(),
  ).toBe(201)
  const [song] = (await (await page.request.get('/api/songs')).json()) as { id: string; title: string }[]
  const { parts } = (await (await page.request.get(`/api/songs/${song!.id}`)).json()) as { parts: { id: string }[] }
  return { page, part: parts[0]!.id }
}

async function deviceOf(browser: Browser, url = program.url): Promise<Page> {
  const context = await browser.newContext({ baseURL: url, serviceWorkers: 'allow' })
  await runOnTestClock(context)
  return await context.newPage()
}
const standOf = (part: string) => `/stand/${part}?hands=right&bpm=${BPM}`

/** The worker comes when the first page rests; from then on what is practised is kept. */
async function isKept(page: Page, part: string) {
  await page.goto('/')
  await page.evaluate(async () => {
    await navigator.serviceWorker.ready
  })
  await page.goto('/')
  await expect
    .poll(
      async () =>
        await page.evaluate(
          async address =>
            (await (await caches.open('half-step-answers')).keys()).some(one => one.url.includes(address)),
          `/api/parts/${part}`,
        ),
      { timeout: 30_000 },
    )
    .toBe(true)
}

interface KeptPass {
  id: string
  startedAt: string
}
/**
 * The server has these passes beside as many as before, in the order in which they were played, and no browser keeps
 * any back.
 */
async function arrived(pages: readonly Page[], before: number, played: readonly KeptPass[]) {
  for (const page of pages) await expect.poll(async () => (await waiting(page)).length, { timeout: 60_000 }).toBe(0)
  const kept = (await (await pages[0]!.request.get('/api/passes?limit=500')).json()) as KeptPass[]
  expect(kept).toHaveLength(before + played.length)
  const ids = kept.map(pass => pass.id)
  for (const { id } of played) expect(ids).toContain(id)
  expect(kept.map(pass => pass.startedAt)).toEqual(
    kept
      .map(pass => pass.startedAt)
      .toSorted()
      .toReversed(),
  )
}

/** Made anew from the passes alone, in another account, the stairs are the same. */
async function isFoldedTheSame(page: Page, playwright: PlaywrightWorkerArgs['playwright']) {
  const at = new Date().toISOString()
  const archive = await written(page.request)
  expect(
    (
      await page.request.put('/api/account/password', {
        data: { password: 'a password of a test' },
        headers: { origin: program.url },
      })
    ).status(),
  ).toBe(204)
  const other = await playwright.request.newContext({ baseURL: program.url, extraHTTPHeaders: { origin: program.url } })
  expect(
    (await other.post('/api/accounts', { data: { name: 'Somebody else', password: 'a password of a test' } })).status(),
  ).toBe(201)
  expect(
    await (await other.post('/api/archive', { data: archive, headers: { 'content-type': 'application/gzip' } })).text(),
  ).toContain('"restored"')
  const stairs = async (api: APIRequestContext) => {
    const [only] = (await (await api.get('/api/songs')).json()) as { id: string }[]
    const { stairs: its } = (await (await api.get(`/api/songs/${only!.id}?at=${at}`)).json()) as { stairs: object }
    return its
  }
  expect(await stairs(other)).toEqual(await stairs(page.request))
}

const passCount = async (page: Page) =>
  ((await (await page.request.get('/api/passes?limit=500')).json()) as unknown[]).length

test('a server that stops in the middle of a session of 40 passes has them all when it is back, in order, and folded as if it had never been away', async ({
  browser,
  playwright,
}) => {
  const { page, part } = await begun(browser)
  await isKept(page, part)
  await page.goto(standOf(part))
  await practise(page, FIRST)
  await expect.poll(async () => (await waiting(page)).length).toBe(0)
  const before = await passCount(page)

  await program.stop()
  await page.keyboard.press('Space')
  await reaches(page, SECOND)
  await page.keyboard.press('Space')
  // A page that is opened anew, and one that was not looked at before, come from the browser.
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Today', exact: true })).toBeVisible({ timeout: 30_000 })
  await expect(page.getByText('The server does not answer. Practise on')).toBeVisible()
  await expect(page.getByText('What you see was kept')).toBeVisible()
  await page.goto(standOf(part))
  const soFar = before + (await waiting(page)).length
  await practise(page, Math.max(1, PASSES - soFar))
  await expect(page.getByText(/passes waiting to be saved/)).toBeVisible()
  const all = await waiting(page)
  expect(before + all.length).toBeGreaterThanOrEqual(PASSES)

  await program.startAgain()
  await arrived([page], before, all)
  await isFoldedTheSame(page, playwright)
})

test('two devices that both practise while the server is away lose nothing, and what was learned is the same as if every pass had come in turn', async ({
  browser,
  playwright,
}) => {
  const { page: piano, part } = await begun(browser)
  const tablet = await deviceOf(browser)
  const devices = [piano, tablet]
  for (const device of devices) await isKept(device, part)
  const before = await passCount(piano)

  await program.stop()
  await Promise.all(
    devices.map(async (device, index) => {
      await device.goto(standOf(part))
      await practise(device, APART[index]!)
    }),
  )
  const played = (await Promise.all(devices.map(waiting))).flat()
  expect(played.length).toBeGreaterThanOrEqual(APART[0] + APART[1])

  await program.startAgain()
  await arrived(devices, before, played)
  await isFoldedTheSame(piano, playwright)
})

test('a server with too much to do is not said to be away, and what is shown meanwhile is fetched anew', async ({
  browser,
}) => {
  const proxy = createProxyServer({ target: program.url })
  /** What is answered in the server's stead. */
  let stead: Record<string, string> | undefined
  const front = createServer((request, response) => {
    if (stead && request.url!.startsWith('/api/')) return void response.writeHead(503, stead).end('{}')
    void proxy.web(request, response).catch(() => response.destroy())
  }).listen(0, '127.0.0.1')
  await once(front, 'listening')
  try {
    const { page, part } = await begun(browser, `http://127.0.0.1:${(front.address() as AddressInfo).port}`)
    await isKept(page, part)
    for (const [headers, words] of [
      [{ [BUSY_HEADER]: '1' }, 'The server has too much to do just now'],
      [{}, 'The server does not answer.'],
    ] as [Record<string, string>, string][]) {
      stead = headers
      await page.goto('/')
      await expect(page.getByText(words)).toBeVisible()
      await expect(page.getByText('What you see was kept')).toBeVisible()
      await expect(page.getByRole('heading', { name: 'Today', exact: true })).toBeVisible()
      stead = undefined
      await expect(page.getByText(words)).toBeHidden({ timeout: 15_000 })
    }
  } finally {
    front.closeAllConnections()
    front.close()
  }
})

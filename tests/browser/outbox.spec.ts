/** From where a pass is put aside in the browser to where it is kept, whatever lies between. */
import { randomUUID } from 'node:crypto'
import type { Page } from '@playwright/test'
import type { SentPass } from '../../shared/utils/passes'
import { answering } from '../material/page'
import { expect, test } from '../material/player'

async function firstPart(page: Page): Promise<string> {
  const songs = (await (await page.request.get('/api/songs')).json()) as { id: string; title: string }[]
  const ferry = songs.find(song => song.title === 'The Lantern Ferry')!
  return ((await (await page.request.get(`/api/songs/${ferry.id}`)).json()) as { parts: { id: string }[] }).parts[0]!.id
}

const pass = (partId: string, minute: number, more: Partial<SentPass> = {}): SentPass => ({
  id: randomUUID(),
  partId,
  hands: 'right',
  mode: 'steady',
  bpm: 80,
  startedAt: new Date(Date.UTC(2026, 9, 3, 18, minute)).toISOString(),
  lengthMs: 9000,
  offsetMs: 0,
  take: { notes: [{ onsetMs: 5, durationMs: 300, pitch: 67, velocity: 60 }], pedals: [] },
  ...more,
})

/** Puts passes where the page puts them aside, as if they had just been played. */
async function putAside(page: Page, passes: SentPass[]) {
  const { user } = (await (await page.request.get('/api/_auth/session')).json()) as { user: { id: string } }
  await page.evaluate(
    async ({ passes: all, playerId }) => {
      const db = await new Promise<IDBDatabase>((resolve, reject) => {
        const opening = indexedDB.open('half-step', 1)
        opening.onupgradeneeded = () => opening.result.createObjectStore('passes', { keyPath: 'id' })
        opening.onsuccess = () => resolve(opening.result)
        opening.onerror = () => reject(new Error('no database'))
      })
      const change = db.transaction('passes', 'readwrite')
      for (const one of all) change.objectStore('passes').put({ ...one, playerId })
      await new Promise(resolve => {
        change.oncomplete = resolve
      })
      db.close()
    },
    { passes, playerId: user.id },
  )
}

const kept = async (page: Page): Promise<string[]> =>
  ((await (await page.request.get('/api/passes?limit=500')).json()) as { id: string }[]).map(one => one.id)

test('a pass goes from the page to the Logbook', async ({ page }) => {
  await page.goto('/songs')
  const [one] = [pass(await firstPart(page), 1, { bpm: 71 })]
  await putAside(page, [one])
  await page.goto('/logbook')
  await answering(page)
  await expect.poll(async () => await kept(page)).toEqual([one.id])
  await page.reload()
  await expect(page.locator('main')).toContainText('The Lantern Ferry')
  await expect(page.locator('main')).toContainText('0 of 1 clean')
  await page.goto(`/passes/${one.id}`)
  await expect(page.locator('main')).toContainText('71 bpm')
})

test('one that the server stumbles over does not hold up the others, and goes when it can', async ({ page }) => {
  await page.goto('/songs')
  const partId = await firstPart(page)
  const [bad, ...good] = Array.from({ length: 6 }, (_, minute) => pass(partId, minute))
  await page.route('**/api/passes', async route => {
    if (route.request().method() === 'POST' && (route.request().postDataJSON() as SentPass).id === bad!.id)
      await route.fulfill({ status: 500, json: { message: 'a fault' } })
    else await route.continue()
  })
  await putAside(page, [bad!, ...good])
  await page.reload()
  await expect.poll(async () => (await kept(page)).sort(), { timeout: 20_000 }).toEqual(good.map(one => one.id).sort())
  await expect(page.getByRole('button', { name: '1 pass waiting to be saved' })).toBeVisible()
  await page.unroute('**/api/passes')
  await expect.poll(async () => (await kept(page)).length, { timeout: 30_000 }).toBe(6)
  await expect(page.getByRole('button', { name: /waiting to be saved/ })).toHaveCount(0)
})

test('one that can never be kept says why, can be saved as a file, and be dismissed', async ({ page }) => {
  await page.goto('/songs')
  const long = pass(await firstPart(page), 1, { lengthMs: 4_000_000 })
  await putAside(page, [long])
  await page.reload()
  const note = page.getByRole('button', { name: '1 pass could not be saved' })
  await note.click()
  await expect(page.getByText('1 pass cannot be saved: "lengthMs" must be less than or equal to 3600000')).toBeVisible()
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as a file' }).click(),
  ])
  const saved = JSON.parse((await (await file.createReadStream()).toArray()).join('')) as {
    format: string
    passes: SentPass[]
  }
  expect([saved.format, saved.passes.map(one => one.id)]).toEqual(['half-step/passes', [long.id]])
  await page.getByRole('button', { name: 'Dismiss' }).click()
  await expect(note).toHaveCount(0)
  await page.reload()
  await expect(note).toHaveCount(0)
})

test('what waits while the player is signed out goes out when they sign in again, without a reload', async ({
  page,
}) => {
  const name = `Waiter ${randomUUID().slice(0, 8)}`
  const credentials = { name, password: 'a long enough password' }
  await page.goto('/songs')
  const { user: before } = (await (await page.request.get('/api/_auth/session')).json()) as { user: { name: string } }
  expect(before.name).not.toBe(name)
  await page.request.post('/api/accounts', { data: credentials })
  const song = (await (
    await page.request.post('/api/songs?name=a.txt', {
      data: '| C / / / | G / / / |',
      headers: { 'content-type': 'application/octet-stream' },
    })
  ).json()) as { id: string }
  const partId = ((await (await page.request.get(`/api/songs/${song.id}`)).json()) as { parts: { id: string }[] })
    .parts[0]!.id
  await page.goto('/songs')
  const one = pass(partId, 1)
  await page.route('**/api/passes', route => route.abort())
  await putAside(page, [one])
  await page.getByRole('button', { name: /: account$/ }).click()
  await page.getByRole('menuitem', { name: 'Sign out', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible()
  await page.unroute('**/api/passes')
  await page.getByLabel('Name').fill(name)
  await page.getByLabel('Password').fill(credentials.password)
  await page.getByRole('button', { name: 'Sign in' }).click()
  // A question asked before the answer is in would be a visitor's, and a visitor is the demo's player.
  await expect(page.getByRole('heading', { name: 'Today', exact: true })).toBeVisible()
  await expect.poll(async () => await kept(page), { timeout: 20_000 }).toEqual([one.id])
})

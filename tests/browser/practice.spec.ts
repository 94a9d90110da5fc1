import type { Page } from '@playwright/test'
import { expectedNotes, spanPassage } from '#core/music/passage'
import { quarters } from '#core/music/quarters'
import { demoScore } from '../material/demo'
import { answering, firstPicture, newestSession } from '../material/page'
import { roundStart, standInForMidi, strokes, type Sent } from '../material/midi-stand-in'
import { expect, test } from '../material/player'

/** Slow enough that every check of a pass is done before the next one begins. */
const BPM = 100
const FERRY = demoScore('lantern-ferry.musicxml').arrangement
/** The part "Verse 1, a": from the pickup to bar 4, beat 3. */
const EXPECTED = expectedNotes(FERRY, spanPassage(quarters(0), quarters(16), 'right'), BPM)

async function openStand(page: Page, song: string, part: number, query: string) {
  const songs = (await (await page.request.get('/api/songs')).json()) as { id: string; title: string }[]
  const { parts } = (await (
    await page.request.get(`/api/songs/${songs.find(one => one.title === song)!.id}`)
  ).json()) as { parts: { id: string }[] }
  await page.goto(`/stand/${parts[part]!.id}?${query}`)
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
}

const mark = (page: Page, index: number) => page.locator(`.lane [data-note="${EXPECTED[index]!.id}"]`)

test('four passes through the MIDI stand-in: a wrong, a missing and a late note are marked where they are, and kept', async ({
  page,
}) => {
  await standInForMidi(page)
  await openStand(page, 'The Lantern Ferry', 0, `hands=right&bpm=${BPM}`)
  await expect(page.getByRole('button', { name: 'No keyboard yet' })).toBeVisible()
  const id = await page.evaluate(() => window.standIn.plug('Test Piano'))
  await expect(page.getByRole('button', { name: 'Test Piano' })).toBeVisible()
  await page.keyboard.press('Space')

  const wrong = 3
  const missing = 6
  const late = 9
  for (let round = 0; round < 4; round++) {
    const startMs = await roundStart(page, round)
    const played = EXPECTED.map(({ pitch, onsetMs, durationMs }) => ({ pitch, onsetMs, durationMs }))
    if (round === 1) {
      played[wrong]!.pitch += 1
      played[late]!.onsetMs += 110
      played.splice(missing, 1)
    }
    await page.evaluate(([input, messages]) => window.standIn.send(input, messages), [
      id,
      strokes(played, startMs),
    ] as const)
    if (round === 1) {
      await expect(mark(page, wrong)).toHaveClass('wrong')
      await expect(mark(page, wrong)).toContainText('C')
      await expect(mark(page, missing)).toHaveClass('missed')
      await expect(mark(page, late)).toHaveClass('stray')
      await expect(mark(page, late)).toContainText('late 110')
      await expect(page.locator(`#${EXPECTED[wrong]!.id}`)).toHaveAttribute('data-heard', 'wrong')
      await expect(page.locator(`#${EXPECTED[missing]!.id}`)).toHaveAttribute('data-heard', 'missed')
      for (const index of [0, 1, 2, 4, 5, 7, 8]) await expect(mark(page, index)).toHaveClass('right')
    }
    if (round === 2) await expect(page.locator('.sentence')).toContainText('Bar 1, beat 3, right hand: C instead of B')
  }
  await expect(page.locator('.figures')).toContainText('Pass 4', { timeout: 30_000 })
  await expect(page.locator('.sentence')).toContainText('Clean')
  await page.keyboard.press('Space')

  await page.reload()
  await newestSession(page)
  const rows = page.locator('tbody tr', { hasText: 'The Lantern Ferry' })
  await expect(rows).toHaveCount(4)
  await expect(rows.nth(0)).toContainText('Clean')
  await expect(rows.nth(2)).toContainText(/1[0-4] of 14/)
  await expect(rows.nth(2)).toContainText('C instead of B')
  await expect(rows.nth(2).getByRole('cell').nth(3)).toHaveText(String(BPM))
  const take = await page.request.get((await rows.nth(2).getByRole('link', { name: /MIDI/ }).getAttribute('href'))!)
  expect((await take.body()).subarray(0, 4).toString()).toBe('MThd')
})

test('a left hand that comes late is heard and said', async ({ page }) => {
  await standInForMidi(page)
  await openStand(page, 'The Lantern Ferry', 0, `hands=both&bpm=${BPM}`)
  const id = await page.evaluate(() => window.standIn.plug('Test Piano'))
  await page.keyboard.press('Space')
  const startMs = await roundStart(page, 0)
  const late = expectedNotes(FERRY, spanPassage(quarters(0), quarters(16), 'both'), BPM).map(
    ({ pitch, onsetMs, durationMs, hand }) => ({ pitch, durationMs, onsetMs: onsetMs + (hand === 'left' ? 80 : 0) }),
  )
  await page.evaluate(([input, messages]) => window.standIn.send(input, messages), [
    id,
    strokes(late, startMs),
  ] as const)
  await expect(
    page.locator('.sentence, .next').filter({ hasText: /The left hand comes [78]\d ms after the other/ }),
  ).toBeVisible({ timeout: 30_000 })
  await page.keyboard.press('Escape')
})

test('a restart is understood, and the review shows every figure at its note', async ({ page }) => {
  await standInForMidi(page)
  await openStand(page, 'The Lantern Ferry', 0, `hands=right&bpm=${BPM}`)
  const id = await page.evaluate(() => window.standIn.plug('Test Piano'))
  await page.keyboard.press('Space')
  const startMs = await roundStart(page, 0)
  // Bar 2 is begun, given up at its third beat and begun again, two beats behind the click from there on.
  const beatMs = 60_000 / BPM
  const given = EXPECTED.filter(note => note.onsetMs < 6.9 * beatMs)
  const again = EXPECTED.filter(note => note.onsetMs > 4.9 * beatMs).map(note => ({
    ...note,
    onsetMs: note.onsetMs + 2 * beatMs,
  }))
  await page.evaluate(([input, messages]) => window.standIn.send(input, messages), [
    id,
    strokes([...given, ...again], startMs),
  ] as const)
  await expect(page.locator('.figures')).toContainText('Pass 1', { timeout: 30_000 })
  await expect(page.locator('.sentence')).toContainText('You stopped and took up again once, at bar 2')
  await expect(page.locator('.figures')).toContainText(`${EXPECTED.length} of ${EXPECTED.length} right`)
  await page.keyboard.press('Escape')

  await page.keyboard.press('F6')
  await expect(page.getByRole('heading', { name: 'Measurements' })).toBeVisible({ timeout: 30_000 })
  await answering(page)
  await expect(page.locator('.finding').first()).toContainText('took up again once')
  await page.getByText('Measurements').click()
  await page.getByText('Note by note').click()
  await firstPicture(page)
  await expect(page.getByRole('row', { name: /Unsteadiness/ })).toContainText(/at most \d+ ms/)
  const last = EXPECTED.at(-1)!
  // A half note: its hollow head lets the click through to the paper.
  await page.locator(`#${last.id} .notehead`).click({ force: true })
  await expect(page.locator('.figures h3')).toContainText(`bar ${last.bar}, beat ${last.beat}`)
  for (const name of ['Outcome', 'Against the beat', 'Held', 'Loudness'])
    await expect(page.locator('.figures dt', { hasText: name })).toBeVisible()
  await page.getByRole('switch', { name: /Show every note/ }).click()
  await expect(page.locator('tr.chosen')).toContainText('right')
  await page.locator('tbody button').first().click()
  await expect(page.locator('.figures h3')).toContainText('bar 0, beat 4')
})

test('what is asked of a pass follows the settings, and a known keyboard delay is taken off', async ({ page }) => {
  await page.goto('/settings')
  await answering(page)
  await page.getByRole('radio', { name: /Strict/ }).click()
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible()
  // What the field does not take, the browser says itself, and nothing is sent.
  await page.getByLabel('Delay in ms').fill('900')
  await page.getByRole('button', { name: 'Save delay' }).click()
  expect(await page.getByLabel('Delay in ms').evaluate(one => (one as HTMLInputElement).validity.rangeOverflow)).toBe(
    true,
  )
  expect((await (await page.request.get('/api/settings')).json()) as object).toMatchObject({ keyboardDelayMs: 0 })
  await page.getByLabel('Delay in ms').fill('90')
  await page.getByRole('button', { name: 'Save delay' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible()
  try {
    await standInForMidi(page)
    await openStand(page, 'The Lantern Ferry', 0, `hands=right&bpm=200`)
    const id = await page.evaluate(() => window.standIn.plug('Slow Piano'))
    await page.keyboard.press('Space')
    const startMs = await roundStart(page, 0)
    const delayed = expectedNotes(FERRY, spanPassage(quarters(0), quarters(16), 'right'), 200).map(note => ({
      ...note,
      onsetMs: note.onsetMs + 90,
    }))
    await page.evaluate(([input, messages]) => window.standIn.send(input, messages), [
      id,
      strokes(delayed, startMs),
    ] as const)
    await expect(page.locator('.figures')).toContainText('Pass 1', { timeout: 30_000 })
    await expect(page.locator('.sentence')).toContainText('Clean')
    await expect(page.locator('.figures')).toContainText('± 42 ms')
    await page.keyboard.press('Escape')
  } finally {
    await page.goto('/settings')
    await answering(page)
    await page.getByRole('radio', { name: /Normal/ }).click()
    await page.getByLabel('Delay in ms').fill('0')
    await page.getByRole('button', { name: 'Save delay' }).click()
    await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible()
  }
})

test('the tempo and the hands change with the next pass, from the keys of the computer', async ({ page }) => {
  await standInForMidi(page)
  await openStand(page, 'Snow on the Towpath', 0, 'hands=right&bpm=280')
  await page.evaluate(() => window.standIn.plug('Test Piano'))
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('ArrowLeft')
  await expect(page.getByLabel('Tempo, beats a minute')).toHaveValue('284')
  await expect(page.getByRole('radio', { name: 'Left' })).toBeChecked()
  await page.keyboard.press('Space')
  await roundStart(page, 0)
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  const [first, second, third] = [await roundStart(page, 0), await roundStart(page, 1), await roundStart(page, 2)]
  expect((second - first) / 12).toBeCloseTo(60_000 / 284, 0)
  expect((third - second) / 12).toBeCloseTo(60_000 / 276, 0)
  await page.keyboard.press('Escape')
  await expect(page.getByRole('button', { name: /Start/ })).toBeVisible()
})

test('a keyboard unplugged in the middle of a pass ends it, and the loop goes on with one plugged in', async ({
  page,
}) => {
  await standInForMidi(page)
  await openStand(page, 'The Lantern Ferry', 1, 'hands=right&bpm=90')
  const first = await page.evaluate(() => window.standIn.plug('First Piano'))
  await page.evaluate(() => window.standIn.plug('Second Piano'))
  await expect(page.getByRole('button', { name: 'First Piano, Second Piano' })).toBeVisible()
  await page.keyboard.press('Space')
  const startMs = await roundStart(page, 0)
  // B4, the part's first note, and never let go.
  await page.evaluate(([id, messages]) => window.standIn.send(id, messages), [
    first,
    [{ atMs: startMs + 10, bytes: [0x90, 71, 60] }],
  ] as [string, Sent[]])
  await expect(page.locator('.lane li.right').first()).toBeVisible()
  await page.evaluate(id => window.standIn.unplug(id), first)
  await expect(page.getByRole('button', { name: 'First Piano was unplugged' })).toBeVisible()
  await expect(page.locator('.sentence')).toContainText('First Piano was unplugged')
  await page.evaluate(() => window.standIn.plug('Third Piano'))
  await expect(page.getByRole('button', { name: 'Second Piano, Third Piano' })).toBeVisible()
  await expect(page.locator('.sign')).toHaveAttribute('data-state', /count-in|playing/)
  await expect(page.locator('.figures')).toHaveCount(0)
})

test('the simulated player plays through the same interface, and a pass survives a server that cannot be reached', async ({
  page,
}) => {
  await openStand(page, 'Side Street Shuffle', 0, 'hands=right&bpm=260')
  await page.getByRole('button', { name: 'No keyboard yet' }).click()
  await page.getByRole('switch', { name: 'Simulated player' }).click()
  await page.keyboard.press('Escape')
  await page.route('**/api/passes', route => route.abort())
  await page.getByRole('button', { name: /Start/ }).click()
  await expect(page.locator('.figures')).toContainText('Pass 2', { timeout: 60_000 })
  await expect(page.locator('.lane li.right').first()).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByText(/waiting to be saved/)).toBeVisible()
  await page.unroute('**/api/passes')
  await expect(async () => {
    await newestSession(page)
    await expect(page.locator('tbody tr', { hasText: 'Side Street Shuffle' })).not.toHaveCount(0, { timeout: 2000 })
    expect(await page.locator('tbody tr', { hasText: 'Side Street Shuffle' }).count()).toBeGreaterThanOrEqual(2)
  }).toPass({ timeout: 40_000 })
})

test('the computer keyboard and the keys on the screen are keyboards too', async ({ page }) => {
  await openStand(page, 'The Lantern Ferry', 0, 'hands=right&bpm=60')
  await page.getByRole('button', { name: 'No keyboard yet' }).click()
  await page.getByRole('switch', { name: 'Computer keyboard' }).click()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Keys on the screen' }).click()
  await page.getByRole('button', { name: /Start/ }).click()
  const startMs = await roundStart(page, 0)
  await page.waitForFunction(at => performance.now() > at, startMs)
  await page.keyboard.press('w')
  await expect(mark(page, 0)).toBeVisible()
  await page.waitForFunction(at => performance.now() > at, startMs + 950)
  await page.getByRole('button', { name: 'G4', exact: true }).click()
  await expect(mark(page, 1)).toBeVisible()
})

/** Patterns, editions and drills, as a player meets them. */
import type { Page } from '@playwright/test'
import type { Arrangement, Hands } from '#core/music/arrangement'
import { expectedNotes, spanPassage, type ScoreSpan } from '#core/music/passage'
import { roundStart, standInForMidi, strokes } from '../material/midi-stand-in'
import { answering, pick } from '../material/page'
import { expect, test } from '../material/player'
import { open, partsOf, plug } from '../material/stand'

/** Plays one round of the part that the Stand shows, cleanly, and waits until it was heard. */
async function playRound(page: Page, keyboard: string, hands: Hands, bpm: number, round = 0) {
  const partId = /stand\/([^?]+)/.exec(page.url())![1]!
  const { arrangement, stretch } = (await (await page.request.get(`/api/parts/${partId}`)).json()) as {
    arrangement: Arrangement
    stretch: ScoreSpan
  }
  const startMs = await roundStart(page, round)
  await page.evaluate(([input, messages]) => window.standIn.send(input, messages), [
    keyboard,
    strokes(expectedNotes(arrangement, spanPassage(stretch.from, stretch.to, hands), bpm), startMs),
  ] as const)
  await expect(page.locator('.figures')).toContainText(`Pass ${round + 1}`, { timeout: 60_000 })
}

test('a chart is pasted with a pattern, played, and goes one pattern up and one key on', async ({ page }) => {
  await standInForMidi(page)
  await page.goto('/songs/add?from=chart')
  await answering(page)
  await page.getByLabel('Chords').fill('title: Low Water\nkey: C\ntempo: 120\n| C | Am | F | G7 |')
  await page.getByRole('button', { name: 'Read the chart' }).click()
  const left = page.getByLabel('Left hand')
  await left.click()
  await page.getByRole('option', { name: /^Root and fifth · / }).click({ timeout: 30_000 })
  await expect(page.getByText('the left hand plays “Root and fifth”')).toBeVisible()
  await page.getByRole('button', { name: 'Save the song' }).click()
  await expect(page.locator('main')).toContainText('from a chord chart, left hand: root and fifth')
  const [part] = await partsOf(page, 'Low Water')

  await open(page, part!.id, 'hands=left&bpm=120')
  const keyboard = await plug(page)
  await page.keyboard.press('Space')
  await playRound(page, keyboard, 'left', 120)
  await expect(page.locator('.sentence')).toContainText('Clean')
  await page.keyboard.press('Space')

  await page.getByRole('link', { name: 'Low Water' }).click()
  await page.getByRole('button', { name: 'New edition' }).click()
  const pattern = page.getByRole('combobox', { name: 'Plays' })
  await expect(pattern).not.toContainText('Root and fifth', { timeout: 30_000 })
  const next = (await pattern.textContent())!.split(' · ')[0]!
  const first = page.url()
  await page.getByRole('button', { name: 'Make it' }).click()
  await expect(page).not.toHaveURL(first)
  await expect(page.locator('main')).toContainText(`left hand: ${next.toLowerCase()}`)
  await expect(page.getByRole('navigation', { name: 'Editions' }).getByRole('link')).toHaveCount(2)

  await page.getByRole('button', { name: 'New edition' }).click()
  await page.getByRole('tab', { name: 'Another key' }).click()
  await page.getByRole('button', { name: 'Make it' }).click()
  await expect(page.locator('main')).toContainText('5 flats', { timeout: 15_000 })
  await expect(page.getByRole('navigation', { name: 'Editions' }).getByRole('link')).toHaveCount(3)
})

test('a drill made from bars on the Stand is in Today, is played, and stands in the Logbook and among the drills', async ({
  page,
}) => {
  await standInForMidi(page)
  const [part] = await partsOf(page, 'The Lantern Ferry')
  await open(page, part!.id, 'hands=right&bpm=100')
  await page.keyboard.press('Shift+F8')
  const panel = page.getByRole('form', { name: 'A drill from these bars' })
  await pick(panel.getByLabel('Rhythm'), 'in groups of two')
  await panel.getByRole('button', { name: 'Make it and begin' }).click()
  await expect(page).not.toHaveURL(new RegExp(part!.id))
  await expect(page.locator('h1')).toContainText('G major', { timeout: 30_000 })

  await page.goto('/')
  await answering(page)
  const drill = page.getByRole('article').filter({ hasText: 'Drill' })
  await expect(drill).toContainText('in groups of two')
  await drill.getByRole('link', { name: /^Begin/ }).click()
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
  const keyboard = await plug(page)
  const query = new URL(page.url()).searchParams
  await page.keyboard.press('Space')
  await playRound(page, keyboard, query.get('hands') as Hands, Number(query.get('bpm')))
  await page.keyboard.press('Space')

  await page.goto('/logbook')
  await expect(page.locator('main')).toContainText('in groups of two', { timeout: 15_000 })
  await page.goto('/drills')
  await expect(page.getByRole('tabpanel')).toContainText('in groups of two')
  await expect(page.getByRole('tabpanel')).toContainText(/[Ll]east even: finger \d of the right hand/)
})

test('a ready drill begins within a moment, and a pattern is drawn, heard, kept and offered', async ({ page }) => {
  await page.goto('/drills')
  await answering(page)
  await page.getByRole('button', { name: /^Begin Major scale, one octave, right hand/ }).click()
  await expect(page.locator('h1')).toContainText('C major', { timeout: 30_000 })
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })

  await page.goto('/drills?tab=patterns')
  await answering(page)
  await page.getByRole('button', { name: 'New pattern' }).click()
  await page.getByLabel('Name').fill('Rocking')
  await page.getByRole('button', { name: 'bass, beat 3: rest' }).click()
  await expect(page.getByRole('button', { name: 'bass, beat 3: struck' })).toBeVisible()
  await page.keyboard.press('ArrowDown')
  await expect(page.getByRole('button', { name: /^fifth, beat 3/ })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: 'fifth, beat 3: rest' })).toBeFocused()
  await expect(page.getByText(/^In the left hand at 90: difficulty \d/)).toBeVisible()
  await page.getByRole('button', { name: 'Hear it' }).click()
  await page.getByRole('button', { name: 'Stop', exact: true }).click()
  await expect(page.getByRole('button', { name: 'Hear it' })).toBeVisible()
  await page.getByRole('button', { name: 'Hear Boogie' }).click()
  await page.getByRole('button', { name: 'Stop listening' }).click()
  await page.getByRole('button', { name: 'Save the pattern' }).click()
  await expect(page.getByRole('listitem').filter({ hasText: 'Rocking' })).toContainText('yours')
})

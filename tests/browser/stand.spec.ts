import AxeBuilder from '@axe-core/playwright'
import { expectedNotes, spanPassage } from '#core/music/passage'
import { roundStart, standInForMidi, strokes, type Sent } from '../material/midi-stand-in'
import { expect, test } from '../material/player'
import { FERRY, measured, open, PART, partsOf, plug, sign, SIZES, state, title } from '../material/stand'

test.describe('it fits', () => {
  test('what was said last is whole on every screen, and nothing is against the rules of access', async ({ page }) => {
    await standInForMidi(page)
    const [part] = await partsOf(page, 'The Lantern Ferry')
    await open(page, part!.id, 'hands=right&bpm=280&times=1')
    const id = await plug(page)
    await page.keyboard.press('Space')
    const startMs = await roundStart(page, 0)
    await expect(sign(page)).toHaveAttribute('data-state', /count-in|playing/)
    expect((await measured(page)).outside, 'running').toEqual([])
    // The right notes but one: there is something to say, and a place to be played alone.
    const played = expectedNotes(FERRY, spanPassage(PART.from, PART.to, 'right'), 280).map((note, index) =>
      index === 3 ? { ...note, pitch: note.pitch + 1 } : note,
    )
    await page.evaluate(([input, sent]) => window.standIn.send(input, sent), [id, strokes(played, startMs)] as [
      string,
      Sent[],
    ])
    await expect(page.locator('.sentence')).toContainText('Played once', { timeout: 30_000 })
    for (const [width, height] of SIZES) {
      await page.setViewportSize({ width, height })
      await expect(async () => expect((await measured(page)).outside, `${width}×${height}`).toEqual([])).toPass({
        timeout: 10_000,
      })
    }
    await page.setViewportSize({ width: 1280, height: 800 })
    for (const colorScheme of ['light', 'dark'] as const) {
      await page.emulateMedia({ colorScheme })
      expect(
        (
          await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']).analyze()
        ).violations.map(one => `${one.id}: ${one.nodes.map(node => node.html.slice(0, 120)).join(' ')}`),
      ).toEqual([])
    }
  })
})

test.describe('any bars, any tempo, so many times', () => {
  test('marked with the pointer, played so often, told what came of it, and left with one key', async ({ page }) => {
    await standInForMidi(page)
    const parts = await partsOf(page, 'The Lantern Ferry')
    await open(page, parts[0]!.id, 'hands=right')
    const id = await plug(page)
    const bars = page.locator('.engraving .measure')
    const middle = async (bar: number) =>
      await bars
        .nth(bar)
        .locator('.staff')
        .first()
        .evaluate(staff => {
          const box = staff.querySelector('path')!.getBoundingClientRect()
          return [box.left + box.width / 2, box.top + 10] as [number, number]
        })
    // Where fingers are drawn into it the music moves: then it is drawn over once more.
    await expect(async () => {
      await page.mouse.move(...(await middle(1)))
      await page.mouse.down()
      await page.mouse.move(...(await middle(2)), { steps: 4 })
      await page.mouse.up()
      await expect(title(page)).toContainText('bars 1 to 2', { timeout: 1_500 })
    }).toPass({ timeout: 20_000 })
    await expect(page.getByRole('slider', { name: 'Where the marked bars begin' })).toBeVisible()
    // By a beat, from the keyboard.
    await page.getByRole('slider', { name: 'Where the marked bars end' }).press('ArrowLeft')
    await expect(title(page)).toContainText('bar 1 to bar 2, beat')
    await page.getByRole('slider', { name: 'Where the marked bars end' }).press('ArrowRight')
    await page.getByLabel('Tempo, beats a minute').fill('240')
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: 'How often: until you stop' }).click()
    await page.getByRole('button', { name: '5 times', exact: true }).click()
    await expect(page.getByRole('dialog')).toHaveCount(0)
    await page.keyboard.press('Space')
    const stretch = { from: FERRY.bars[1]!.start, to: FERRY.bars[3]!.start }
    const expected = expectedNotes(FERRY, spanPassage(stretch.from, stretch.to, 'right'), 240)
    for (let round = 0; round < 5; round++) {
      await page.evaluate(([input, sent]) => window.standIn.send(input, sent), [
        id,
        strokes(round === 1 ? expected.slice(1) : expected, await roundStart(page, round)),
      ] as [string, Sent[]])
    }
    await expect(page.locator('.sentence')).toContainText('Played 5 times: 4 clean, the last 3 in a row.', {
      timeout: 30_000,
    })
    expect(await state(page)).toBe('resting')
    await page.keyboard.press('Backspace')
    await expect(title(page)).toContainText(parts[0]!.name)
    // In the book, with the bars that were played.
    await expect
      .poll(async () =>
        ((await (await page.request.get('/api/passes?limit=5')).json()) as { place: object | null; bpm: number }[]).map(
          pass => [pass.place !== null, pass.bpm],
        ),
      )
      .toEqual(Array.from({ length: 5 }, () => [true, 240]))
  })

  test('what the sentence asks to be played alone is a button, on the Stand and in the review', async ({ page }) => {
    await standInForMidi(page)
    const [part] = await partsOf(page, 'The Lantern Ferry')
    await open(page, part!.id, 'hands=right&bpm=200&times=1')
    const id = await plug(page)
    await page.keyboard.press('Space')
    const startMs = await roundStart(page, 0)
    const played = expectedNotes(FERRY, spanPassage(PART.from, PART.to, 'right'), 200).map(note =>
      note.bar === 2 && (note.beat === 1 || note.beat === 3)
        ? { ...note, pitch: note.pitch + (note.beat === 1 ? 1 : 3) }
        : note,
    )
    await page.evaluate(([input, sent]) => window.standIn.send(input, sent), [id, strokes(played, startMs)] as [
      string,
      Sent[],
    ])
    await expect(page.locator('.sentence')).toContainText('Played once', { timeout: 30_000 })
    await page
      .getByRole('button', { name: 'Review this pass' })
      .or(page.getByRole('link', { name: 'Review this pass' }))
      .click()
    const inReview = page.getByRole('link', { name: 'Bar 2 alone at 160 bpm, until 3 in a row are clean' })
    await expect(inReview.first()).toBeVisible({ timeout: 20_000 })
    await inReview.first().click()
    await expect(title(page)).toContainText('bar 2')
    await expect(page.getByLabel('Tempo, beats a minute')).toHaveValue('160')
    await expect(page.getByRole('button', { name: 'How often: until 3 in a row are clean' })).toBeVisible()
  })
})

test.describe('it keeps listening', () => {
  test('in own time whoever plays straight on is heard from the first key', async ({ page }) => {
    await standInForMidi(page)
    const [part] = await partsOf(page, 'The Lantern Ferry')
    await open(page, part!.id, 'hands=right&mode=own-time&bpm=60')
    const id = await plug(page)
    await page.keyboard.press('Space')
    await expect(sign(page)).toHaveAttribute('data-state', 'waiting')
    const notes = expectedNotes(FERRY, spanPassage(PART.from, PART.to, 'right'), 60)
    const begin = await page.evaluate(() => performance.now())
    // Twice without a pause between.
    const twice = [...notes, ...notes].map((note, index) => ({
      pitch: note.pitch,
      onsetMs: 300 + 130 * index,
      durationMs: 120,
    }))
    await page.evaluate(([input, sent]) => window.standIn.send(input, sent), [id, strokes(twice, begin)] as [
      string,
      Sent[],
    ])
    await expect(page.locator('.figures')).toContainText('Pass 2', { timeout: 30_000 })
    await expect(page.locator('.figures')).toContainText(`${notes.length} of ${notes.length} right`)
    await expect(page.locator('.figures')).not.toContainText('extra')
  })

  test('unplugged in the middle it stops, says so, keeps nothing, and goes on when the keyboard is back', async ({
    page,
  }) => {
    await standInForMidi(page)
    const [part] = await partsOf(page, 'The Lantern Ferry')
    await open(page, part!.id, 'hands=right&bpm=240')
    const id = await plug(page, 'First Piano')
    await page.keyboard.press('Space')
    await roundStart(page, 0)
    await expect(sign(page)).toHaveAttribute('data-state', 'playing', { timeout: 20_000 })
    await page.evaluate(input => window.standIn.unplug(input), id)
    await expect(sign(page)).toHaveAttribute('data-state', 'interrupted')
    await expect(page.locator('.sentence')).toContainText('First Piano was unplugged. This pass is not kept.')
    await page.waitForTimeout(1000)
    await expect(page.locator('.figures')).toHaveCount(0)
    await plug(page, 'First Piano')
    await expect(sign(page)).toHaveAttribute('data-state', /count-in|playing/)
  })
})

test('it says what it does: its states in order, no count-in where there is none, the window named after what is played', async ({
  page,
}) => {
  await standInForMidi(page)
  const [part] = await partsOf(page, 'The Lantern Ferry')
  await open(page, part!.id, 'hands=right&mode=own-time&bpm=60')
  await expect(page.locator('.sentence')).toContainText('There is no click; the music waits for you.')
  await expect(page).toHaveTitle(/right hand, in your own time · Half Step$/)
  await page.keyboard.press('F7')
  await expect(page.locator('.sentence')).toContainText('play after the count-in')
  await expect(page).toHaveTitle(/right hand, 60 bpm · Half Step$/)
  const id = await plug(page)
  await page.evaluate(() => {
    const seen: string[] = []
    Object.assign(window, { seen })
    const note = () => {
      const now = document.querySelector('.sign')!.getAttribute('data-state')!
      if (seen.at(-1) !== now) seen.push(now)
    }
    new MutationObserver(note).observe(document.querySelector('.line')!, {
      subtree: true,
      attributes: true,
      childList: true,
    })
  })
  for (let step = 0; step < 4; step++) await page.keyboard.press('PageUp')
  const bpm = Number(await page.getByLabel('Tempo, beats a minute').inputValue())
  await page.keyboard.press('Space')
  const startMs = await roundStart(page, 0)
  await page.evaluate(([input, sent]) => window.standIn.send(input, sent), [
    id,
    strokes(expectedNotes(FERRY, spanPassage(PART.from, PART.to, 'right'), bpm), startMs),
  ] as [string, Sent[]])
  await expect(page.locator('.figures')).toContainText('Pass 1', { timeout: 30_000 })
  await expect
    .poll(async () => await page.evaluate(() => (window as unknown as { seen: string[] }).seen.join()))
    .toMatch(/starting,count-in,playing,judged,playing/)
})

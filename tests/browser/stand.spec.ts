import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'
import { expectedNotes, stretchPassage } from '#core/music/passage'
import { quarters } from '#core/music/quarters'
import { demoScore } from '../material/demo'
import { denseSong } from '../material/dense-song'
import { roundStart, standInForMidi, strokes, type Sent } from '../material/midi-stand-in'
import { answering } from '../material/page'
import { expect, test } from '../material/player'

const FERRY = demoScore('lantern-ferry.musicxml').arrangement
/** Where the ferry's first part lies: from the pickup to bar 4, beat 3. */
const PART = { from: quarters(0), to: quarters(16) }
const SIZES = [[1280, 800], [1920, 1080], [820, 1180], [640, 400], [390, 844]] as const

async function partsOf(page: Page, title: string): Promise<{ id: string, name: string }[]> {
  await page.goto('/songs')
  const songs = await (await page.request.get('/api/songs')).json() as { id: string, title: string }[]
  return (await (await page.request.get(`/api/songs/${songs.find(song => song.title === title)!.id}`)).json() as { parts: { id: string, name: string }[] }).parts
}

async function open(page: Page, partId: string, query = 'hands=right') {
  await page.goto(`/stand/${partId}?${query}`)
  await answering(page)
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
}

const plug = async (page: Page, name = 'Test Piano') => await page.evaluate(called => window.standIn.plug(called), name)
const sign = (page: Page) => page.locator('.sign')
const state = async (page: Page) => await sign(page).getAttribute('data-state')
const title = (page: Page) => page.locator('h1')

/** What of the Stand does not lie in the window, or is cut off; and how high its noteheads are. */
const measured = async (page: Page) => await page.evaluate(() => {
  const isInside = (element: Element) => { const box = element.getBoundingClientRect(); return box.width === 0 || (box.top >= -1 && box.left >= -1 && box.bottom <= innerHeight + 1 && box.right <= innerWidth + 1) }
  const isWhole = (element: Element) => element.scrollHeight <= element.clientHeight + 2 && element.scrollWidth <= element.clientWidth + 2
  const outside = (selector: string) => [...document.querySelectorAll(selector)].filter(element => !isInside(element)).map(element => element.textContent!.trim().slice(0, 30) || element.getAttribute('aria-label') || element.className.toString())
  const room = document.querySelector('.page')!.getBoundingClientRect()
  const heads = [...document.querySelectorAll('.engraving .staff:not(.small, .words-only) .note:not(.not-now) .notehead')].map(head => head.getBoundingClientRect()).filter(box => box.height > 0)
  return {
    scrolls: Math.max(document.documentElement.scrollHeight - innerHeight, document.documentElement.scrollWidth - innerWidth),
    outside: [...outside('main button, main a, main input, main .sentence'), ...(isWhole(document.querySelector('.line')!) && isWhole(document.querySelector('.text')!) ? [] : ['the line'])],
    small: [...document.querySelectorAll('main button, main label:has(input[type=radio])')].filter((one) => { const box = one.getBoundingClientRect(); return box.width > 0 && !one.closest('[role=switch]') && one.getAttribute('role') !== 'switch' && (box.height < 43.5 || box.width < 43.5) }).map(one => one.textContent!.trim() || one.getAttribute('aria-label')),
    cutOff: heads.filter(box => box.top < room.top - 1 || box.bottom > room.bottom + 1).length,
    notes: heads.length, least: Math.min(...heads.map(box => box.height)), most: Math.max(...heads.map(box => box.height)),
  }
})

test.describe('it fits', () => {
  test('crowded music on every screen: all in sight, nothing cut off, the notes within the chosen size', async ({ page }) => {
    await page.goto('/')
    const { id } = await (await page.request.post('/api/songs?name=crowded.musicxml', { data: Buffer.from(denseSong(32)), headers: { 'content-type': 'application/octet-stream' } })).json() as { id: string }
    const parts = (await (await page.request.get(`/api/songs/${id}`)).json() as { parts: { id: string }[] }).parts
    for (const query of ['hands=both', 'hands=both&bars=1-32']) {
      await open(page, parts[0]!.id, query)
      for (const [width, height] of SIZES) {
        await page.setViewportSize({ width, height })
        const where = `${width}×${height} ${query}`
        const [least, most] = width < 700 ? [6.2, 11.2] : [10, 18]
        // Laid out anew, and drawn row by row.
        await expect(async () => {
          const found = await measured(page)
          expect(found, where).toMatchObject({ outside: [], cutOff: 0, small: [] })
          expect(found.scrolls, where).toBeLessThanOrEqual(1)
          expect(found.notes, where).toBeGreaterThan(10)
          expect(found.least, where).toBeGreaterThan(0.9 * least)
          expect(found.most, where).toBeLessThan(1.15 * most)
        }).toPass({ timeout: 20_000 })
      }
    }
  })

  test('the notes are as large as is asked for, and a staff that nobody plays gives its room and keeps its words', async ({ page }) => {
    const songs = await (await page.request.get('/api/songs')).json().catch(() => []) as { id: string, title: string }[]
    await page.goto('/')
    const { id } = songs.length > 0 && songs.find(song => song.title === 'crowded') ? songs.find(song => song.title === 'crowded')! : await (await page.request.post('/api/songs?name=crowded.musicxml', { data: Buffer.from(denseSong(8)), headers: { 'content-type': 'application/octet-stream' } })).json() as { id: string }
    const part = (await (await page.request.get(`/api/songs/${id}`)).json() as { parts: { id: string }[] }).parts[0]!
    await open(page, part.id, 'hands=both')
    const head = async () => (await measured(page)).least
    const staves = async () => await page.locator('.engraving .measure').first().locator('.staff').evaluateAll(all => all.map(staff => staff.querySelector(':scope > path')!.getBoundingClientRect().top))
    const choose = async (name: string, of = 'Notes') => {
      await page.getByRole('button', { name: 'How the Stand looks' }).click()
      await page.getByRole('group', { name: of }).getByRole('button', { name, exact: true }).click()
      await page.keyboard.press('Escape')
      await page.waitForTimeout(900)
    }
    // Fingers come after the notes, and take room above them.
    await expect(page.locator('.engraving .fing').first()).toBeVisible({ timeout: 30_000 })
    try {
      const [medium, [voice, upper]] = [await head(), await staves()]
      await choose('Large')
      expect(await head()).toBeGreaterThan(medium * 1.05)
      await choose('Small')
      expect(await head()).toBeLessThan(13.5)
      await choose('Only the words', 'Staves nobody here plays')
      const [line, right] = await staves()
      expect((right! - line!) / await head()).toBeLessThan((upper! - voice!) / medium)
      await expect(page.locator('.engraving .verse', { hasText: 'Hill' }).first()).toBeVisible()
      expect(await page.locator('.words-only .notehead').first().evaluate(one => getComputedStyle(one).visibility)).toBe('hidden')
    }
    finally {
      await page.request.patch('/api/settings', { data: { stand: { size: 'medium', otherStaves: 'small' } } })
    }
  })

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
    const played = expectedNotes(FERRY, stretchPassage(PART.from, PART.to, 'right'), 280).map((note, index) => index === 3 ? { ...note, pitch: note.pitch + 1 } : note)
    await page.evaluate(([input, sent]) => window.standIn.send(input, sent), [id, strokes(played, startMs)] as [string, Sent[]])
    await expect(page.locator('.sentence')).toContainText('Played once', { timeout: 30_000 })
    for (const [width, height] of SIZES) {
      await page.setViewportSize({ width, height })
      await expect(async () => expect((await measured(page)).outside, `${width}×${height}`).toEqual([])).toPass({ timeout: 10_000 })
    }
    await page.setViewportSize({ width: 1280, height: 800 })
    for (const colorScheme of ['light', 'dark'] as const) {
      await page.emulateMedia({ colorScheme })
      expect((await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']).analyze()).violations.map(one => `${one.id}: ${one.nodes.map(node => node.html.slice(0, 120)).join(' ')}`)).toEqual([])
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
    const middle = async (bar: number) => await bars.nth(bar).locator('.staff').first().evaluate((staff) => { const box = staff.querySelector('path')!.getBoundingClientRect(); return [box.left + box.width / 2, box.top + 10] as [number, number] })
    await page.mouse.move(...await middle(1))
    await page.mouse.down()
    await page.mouse.move(...await middle(2), { steps: 4 })
    await page.mouse.up()
    await expect(title(page)).toContainText('bars 1 to 2')
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
    const expected = expectedNotes(FERRY, stretchPassage(stretch.from, stretch.to, 'right'), 240)
    for (let round = 0; round < 5; round++) {
      await page.evaluate(([input, sent]) => window.standIn.send(input, sent), [id, strokes(round === 1 ? expected.slice(1) : expected, await roundStart(page, round))] as [string, Sent[]])
    }
    await expect(page.locator('.sentence')).toContainText('Played 5 times: 4 clean, the last 3 in a row.', { timeout: 30_000 })
    expect(await state(page)).toBe('resting')
    await page.keyboard.press('Backspace')
    await expect(title(page)).toContainText(parts[0]!.name)
    // In the book, with the bars that were played.
    await expect.poll(async () => (await (await page.request.get('/api/passes?limit=5')).json() as { place: object | null, bpm: number }[]).map(pass => [pass.place !== null, pass.bpm])).toEqual(Array.from({ length: 5 }, () => [true, 240]))
  })

  test('from the keyboard: begin, end, move and grow; by number; and the whole song on the page', async ({ page }) => {
    await standInForMidi(page)
    const parts = await partsOf(page, 'The Lantern Ferry')
    await open(page, parts[0]!.id, 'hands=right')
    await page.keyboard.press('Shift+ArrowRight')
    await expect(title(page)).toContainText('bars 1 to')
    await page.keyboard.press('Shift+ArrowDown')
    const short = await title(page).innerText()
    await page.keyboard.press('Shift+ArrowUp')
    expect(await title(page).innerText()).not.toBe(short)
    await page.keyboard.press('Backspace')
    await expect(title(page)).toContainText('the pickup')
    await page.getByRole('button', { name: 'Choose bars' }).click()
    await page.getByLabel('First bar').fill('6')
    await page.getByLabel('First bar').press('Enter')
    await expect(title(page)).toContainText('bar 6')
    await page.getByLabel('Last bar').fill('7')
    await page.getByLabel('Last bar').press('Enter')
    await expect(title(page)).toContainText('bars 6 to 7')
    await page.getByLabel('Last bar').fill('700')
    await page.getByLabel('Last bar').press('Enter')
    await expect(page.getByRole('alert')).toContainText('There are bars 0 to')
    await page.locator('h1').click()
    await page.keyboard.press('F10')
    await expect(page.getByRole('button', { name: 'Later' })).toBeVisible()
    await page.keyboard.press('F10')
    // Tapped: four taps half a second apart.
    await page.evaluate(async () => {
      for (let tap = 0; tap < 4; tap++) {
        document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'F3', code: 'F3', bubbles: true }))
        await new Promise(resolve => setTimeout(resolve, 500))
      }
    })
    expect(Number(await page.getByLabel('Tempo, beats a minute').inputValue())).toBeGreaterThan(95)
    expect(Number(await page.getByLabel('Tempo, beats a minute').inputValue())).toBeLessThan(125)
  })

  test('become a part of the song, or a hard spot that the coach takes up', async ({ page }) => {
    await standInForMidi(page)
    await page.goto('/')
    const { id: songId } = await (await page.request.post('/api/songs?name=crowded.musicxml', { data: Buffer.from(denseSong(12)), headers: { 'content-type': 'application/octet-stream' } })).json() as { id: string }
    const parts = async () => (await (await page.request.get(`/api/songs/${songId}`)).json() as { parts: { id: string, name: string }[] }).parts
    const before = await parts()
    await open(page, before[0]!.id, 'hands=left&bars=2-3&bpm=200')
    await page.keyboard.press('Shift+ArrowRight')
    await page.getByRole('button', { name: 'Make a part' }).click()
    await expect.poll(async () => (await parts()).map(part => part.name)).toContain('Bars 3 to 4')
    expect((await parts()).some(part => part.id === before[0]!.id)).toBe(true)
    await page.keyboard.press('Shift+ArrowDown')
    await page.getByRole('button', { name: 'Hard spot' }).click()
    await expect(page.getByRole('button', { name: 'Hard spot' })).toHaveAttribute('aria-pressed', 'true')
  })

  test('what the sentence asks to be played alone is a button, on the Stand and in the review', async ({ page }) => {
    await standInForMidi(page)
    const [part] = await partsOf(page, 'The Lantern Ferry')
    await open(page, part!.id, 'hands=right&bpm=200&times=1')
    const id = await plug(page)
    await page.keyboard.press('Space')
    const startMs = await roundStart(page, 0)
    const played = expectedNotes(FERRY, stretchPassage(PART.from, PART.to, 'right'), 200).map(note => note.bar === 2 && (note.beat === 1 || note.beat === 3) ? { ...note, pitch: note.pitch + (note.beat === 1 ? 1 : 3) } : note)
    await page.evaluate(([input, sent]) => window.standIn.send(input, sent), [id, strokes(played, startMs)] as [string, Sent[]])
    await expect(page.locator('.sentence')).toContainText('Played once', { timeout: 30_000 })
    await page.getByRole('button', { name: 'Review this pass' }).or(page.getByRole('link', { name: 'Review this pass' })).click()
    const inReview = page.getByRole('link', { name: 'Bar 2 alone at 160 bpm, until 3 in a row are clean' })
    await expect(inReview.first()).toBeVisible({ timeout: 20_000 })
    await inReview.first().click()
    await expect(title(page)).toContainText('bar 2')
    await expect(page.getByLabel('Tempo, beats a minute')).toHaveValue('160')
    await expect(page.getByRole('button', { name: 'How often: until 3 in a row are clean' })).toBeVisible()
  })

  test('from the song, with hands, tempo and count', async ({ page }) => {
    const parts = await partsOf(page, 'The Lantern Ferry')
    expect(parts.length).toBeGreaterThan(0)
    await page.goto('/songs')
    await page.getByRole('link', { name: /^The Lantern Ferry/ }).click()
    await answering(page)
    await page.getByText('Practise any bars').click()
    const form = page.getByRole('form', { name: 'Practise any bars' })
    await form.getByLabel('Bars').fill('5')
    await form.getByLabel('to', { exact: true }).fill('6')
    await form.getByLabel('with').selectOption('left')
    await form.getByLabel('at').fill('60')
    await form.getByRole('button', { name: 'Practise these bars' }).click()
    await page.waitForURL(/\/stand\//)
    await expect(title(page)).toContainText('bars 5 to 6')
    await expect(page.getByRole('radio', { name: 'Left' })).toBeChecked()
    await expect(page.getByLabel('Tempo, beats a minute')).toHaveValue('60')
    await expect(page.getByRole('button', { name: 'How often: 10 times' })).toBeVisible()
  })
})

test.describe('keys are keys', () => {
  test('after a click on every control they still do what they say', async ({ page }) => {
    await standInForMidi(page)
    const [part] = await partsOf(page, 'The Lantern Ferry')
    await open(page, part!.id, 'hands=right&bpm=60')
    await plug(page)
    const tempo = page.getByLabel('Tempo, beats a minute')
    const controls = await page.locator('footer button:not([disabled]), footer label:has(input[type=radio]), .coach button[role=switch]').all()
    expect(controls.length).toBeGreaterThan(10)
    for (const control of controls) {
      const name = await control.evaluate(one => one.getAttribute('aria-label') ?? one.textContent!.trim())
      await control.click()
      if (await state(page) !== 'resting') await page.keyboard.press('Escape')
      await expect(sign(page), name).toHaveAttribute('data-state', 'resting')
      const before = Number(await tempo.inputValue())
      await page.keyboard.press('ArrowUp')
      await expect(tempo, name).toHaveValue(String(before + 4))
      await page.keyboard.press('ArrowDown')
      await page.keyboard.press('Space')
      await expect(sign(page), name).not.toHaveAttribute('data-state', 'resting')
      await page.keyboard.press('Escape')
      await expect(sign(page), name).toHaveAttribute('data-state', 'resting')
      await expect(tempo, name).toHaveValue(String(before))
    }
  })

  test('a control that was reached with Tab keeps its own; the keys are listed', async ({ page }) => {
    await standInForMidi(page)
    const [part] = await partsOf(page, 'The Lantern Ferry')
    await open(page, part!.id, 'hands=right&bpm=60')
    await plug(page)
    await page.locator('h1').click()
    for (let tab = 0; tab < 40; tab++) {
      await page.keyboard.press('Tab')
      if (await page.evaluate(() => document.activeElement?.getAttribute('aria-label') === 'Faster')) break
    }
    await page.keyboard.press('Space')
    await expect(page.getByLabel('Tempo, beats a minute')).toHaveValue('64')
    expect(await state(page)).toBe('resting')
    await page.keyboard.press('?')
    await expect(page.getByRole('dialog')).toContainText('back to what was played before')
    await page.keyboard.press('Escape')
    await expect(page.getByRole('dialog')).toHaveCount(0)
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
    const notes = expectedNotes(FERRY, stretchPassage(PART.from, PART.to, 'right'), 60)
    const begin = await page.evaluate(() => performance.now())
    // Twice without a pause between.
    const twice = [...notes, ...notes].map((note, index) => ({ pitch: note.pitch, onsetMs: 300 + 130 * index, durationMs: 120 }))
    await page.evaluate(([input, sent]) => window.standIn.send(input, sent), [id, strokes(twice, begin)] as [string, Sent[]])
    await expect(page.locator('.figures')).toContainText('Pass 2', { timeout: 30_000 })
    await expect(page.locator('.figures')).toContainText(`${notes.length} of ${notes.length} right`)
    await expect(page.locator('.figures')).not.toContainText('extra')
  })

  test('unplugged in the middle it stops, says so, keeps nothing, and goes on when the keyboard is back', async ({ page }) => {
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
    await page.waitForTimeout(5000)
    await expect(page.locator('.figures')).toHaveCount(0)
    await plug(page, 'First Piano')
    await expect(sign(page)).toHaveAttribute('data-state', /count-in|playing/)
  })

  test('without a keyboard Start says so and offers other keys', async ({ page }) => {
    await standInForMidi(page)
    const [part] = await partsOf(page, 'The Lantern Ferry')
    await open(page, part!.id, 'hands=right&bpm=60')
    await page.keyboard.press('Space')
    await expect(page.locator('.sentence')).toContainText('No keyboard is connected.')
    expect(await state(page)).toBe('resting')
    await page.locator('.line').getByRole('button', { name: 'Keys on the screen' }).click()
    await expect(sign(page)).toHaveAttribute('data-state', 'count-in')
    await expect(page.getByRole('group', { name: 'Keys', exact: true })).toBeVisible()
  })

  test('of two pages one listens, and the other says where', async ({ page, context }) => {
    const parts = await partsOf(page, 'The Lantern Ferry')
    await open(page, parts[0]!.id)
    const other = await context.newPage()
    await open(other, parts[1]!.id)
    await expect(sign(page)).toHaveAttribute('data-state', 'elsewhere')
    await expect(page.locator('.sentence')).toContainText(`in use on another page: ${parts[1]!.name}, The Lantern Ferry`)
    await page.getByRole('button', { name: 'Listen here' }).click()
    await expect(sign(page)).toHaveAttribute('data-state', 'resting')
    await expect(sign(other)).toHaveAttribute('data-state', 'elsewhere')
  })
})

test('it says what it does: its states in order, no count-in where there is none, the window named after what is played', async ({ page }) => {
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
    const note = () => { const now = document.querySelector('.sign')!.getAttribute('data-state')!; if (seen.at(-1) !== now) seen.push(now) }
    new MutationObserver(note).observe(document.querySelector('.line')!, { subtree: true, attributes: true, childList: true })
  })
  for (let step = 0; step < 4; step++) await page.keyboard.press('PageUp')
  const bpm = Number(await page.getByLabel('Tempo, beats a minute').inputValue())
  await page.keyboard.press('Space')
  const startMs = await roundStart(page, 0)
  await page.evaluate(([input, sent]) => window.standIn.send(input, sent), [id, strokes(expectedNotes(FERRY, stretchPassage(PART.from, PART.to, 'right'), bpm), startMs)] as [string, Sent[]])
  await expect(page.locator('.figures')).toContainText('Pass 1', { timeout: 30_000 })
  await expect.poll(async () => await page.evaluate(() => (window as unknown as { seen: string[] }).seen.join())).toMatch(/starting,count-in,playing,judged,playing/)
})

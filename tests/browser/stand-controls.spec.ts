import { denseSong } from '../material/dense-song'
import { standInForMidi } from '../material/midi-stand-in'
import { answering, pick } from '../material/page'
import { expect, test } from '../material/player'
import { measured, open, partsOf, plug, sign, SIZES, state, title } from '../material/stand'

test.describe('it fits', () => {
  test('crowded music on every screen: all in sight, nothing cut off, the notes within the chosen size', async ({
    page,
  }) => {
    await page.goto('/')
    const { id } = (await (
      await page.request.post('/api/songs?name=crowded.musicxml', {
        data: Buffer.from(denseSong(32)),
        headers: { 'content-type': 'application/octet-stream' },
      })
    ).json()) as { id: string }
    const parts = ((await (await page.request.get(`/api/songs/${id}`)).json()) as { parts: { id: string }[] }).parts
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

  test('the notes are as large as is asked for, and a staff that nobody plays gives its room and keeps its words', async ({
    page,
  }) => {
    const songs = (await (await page.request.get('/api/songs')).json().catch(() => [])) as {
      id: string
      title: string
    }[]
    await page.goto('/')
    const { id } =
      songs.length > 0 && songs.find(song => song.title === 'crowded')
        ? songs.find(song => song.title === 'crowded')!
        : ((await (
            await page.request.post('/api/songs?name=crowded.musicxml', {
              data: Buffer.from(denseSong(8)),
              headers: { 'content-type': 'application/octet-stream' },
            })
          ).json()) as { id: string })
    const part = ((await (await page.request.get(`/api/songs/${id}`)).json()) as { parts: { id: string }[] }).parts[0]!
    await open(page, part.id, 'hands=both')
    const head = async () => (await measured(page)).least
    const staves = async () =>
      await page
        .locator('.engraving .measure')
        .first()
        .locator('.staff')
        .evaluateAll(all => all.map(staff => staff.querySelector(':scope > path')!.getBoundingClientRect().top))
    const choose = async (name: string, of = 'Notes') => {
      await page.getByRole('button', { name: 'How the Stand looks' }).click()
      await page.getByRole('group', { name: of }).getByRole('button', { name, exact: true }).click()
      await page.keyboard.press('Escape')
    }
    // Fingers come after the notes, and take room above them.
    await expect(page.locator('.engraving .fing').first()).toBeVisible({ timeout: 30_000 })
    try {
      const [medium, [voice, upper]] = [await head(), await staves()]
      await choose('Large')
      await expect.poll(head).toBeGreaterThan(medium * 1.05)
      await choose('Small')
      await expect.poll(head).toBeLessThan(13.5)
      await choose('Only the words', 'Staves nobody here plays')
      await expect
        .poll(async () => {
          const [line, right] = await staves()
          return (right! - line!) / (await head())
        })
        .toBeLessThan((0.99 * (upper! - voice!)) / medium)
      await expect(page.locator('.engraving .verse', { hasText: 'Hill' }).first()).toBeVisible()
      expect(
        await page
          .locator('.words-only .notehead')
          .first()
          .evaluate(one => getComputedStyle(one).visibility),
      ).toBe('hidden')
    } finally {
      await page.request.patch('/api/settings', { data: { stand: { size: 'medium', otherStaves: 'small' } } })
    }
  })
})

test.describe('any bars, any tempo, so many times', () => {
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
    const { id: songId } = (await (
      await page.request.post('/api/songs?name=crowded.musicxml', {
        data: Buffer.from(denseSong(12)),
        headers: { 'content-type': 'application/octet-stream' },
      })
    ).json()) as { id: string }
    const parts = async () =>
      ((await (await page.request.get(`/api/songs/${songId}`)).json()) as { parts: { id: string; name: string }[] })
        .parts
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

  test('from the song, with hands, tempo and count', async ({ page }) => {
    const parts = await partsOf(page, 'The Lantern Ferry')
    expect(parts.length).toBeGreaterThan(0)
    await page.goto('/songs')
    await page.getByRole('link', { name: /^The Lantern Ferry/ }).click()
    await answering(page)
    await page.getByText('Practise any bars').click()
    const form = page.getByRole('form', { name: 'Practise any bars' })
    await form.getByLabel('From bar').fill('5')
    await form.getByLabel('To bar').fill('6')
    await pick(form.getByLabel('Hands'), 'left hand')
    await form.getByLabel('Tempo').fill('60')
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
    const controls = await page.locator('footer button:not([disabled]), .coach button[role=switch]').all()
    expect(controls.length).toBeGreaterThan(10)
    for (const control of controls) {
      const name = await control.evaluate(one => one.getAttribute('aria-label') ?? one.textContent!.trim())
      await control.click()
      if ((await state(page)) !== 'resting') await page.keyboard.press('Escape')
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
      // Without a click there is no metronome to press.
      if (name === 'Free') await page.getByRole('radio', { name: 'Click' }).click()
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
    await expect(page.locator('.sentence')).toContainText(
      `in use on another page: ${parts[1]!.name}, The Lantern Ferry`,
    )
    await page.getByRole('button', { name: 'Listen here' }).click()
    await expect(sign(page)).toHaveAttribute('data-state', 'resting')
    await expect(sign(other)).toHaveAttribute('data-state', 'elsewhere')
  })
})

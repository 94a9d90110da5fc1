/**
 * The first ten minutes: led, each step done by playing, by the computer's keyboard alone, with names that a screen
 * reader says.
 */
import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'
import {} from '../material/page'
import { expect, test } from '@playwright/test'
import { startOwn, type OwnProgram } from '../material/own'
import { standInForMidi } from '../material/midi-stand-in'

test.setTimeout(240_000)

let program: OwnProgram
test.beforeAll(async () => {
  program = await startOwn()
})
test.afterAll(async () => {
  await program?.end()
})

/** Presses and lets go of keys of the piano together. */
async function chord(page: Page, id: string, pitches: number[], heldMs = 900) {
  await page.evaluate(([input, keys]) => keys.forEach(key => window.standIn.sendNow(input, [0x90, key, 70])), [
    id,
    pitches,
  ] as const)
  await page.waitForTimeout(heldMs)
  await page.evaluate(([input, keys]) => keys.forEach(key => window.standIn.sendNow(input, [0x80, key, 0])), [
    id,
    pitches,
  ] as const)
}

/** Goes with Tab to the control of a name, and presses a key there. */
async function press(page: Page, name: string | RegExp, key = 'Enter', role: 'button' | 'link' = 'button') {
  const wanted = page.getByRole(role, { name })
  await expect(wanted.first()).toBeVisible()
  for (let tabs = 0; tabs < 60; tabs++) {
    if (await wanted.first().evaluate(element => element === document.activeElement))
      return await page.keyboard.press(key)
    await page.keyboard.press('Tab')
  }
  throw new Error(`${String(name)} cannot be reached with Tab`)
}

/** Goes with Tab to a group of choices, and with the arrows to the one of a name. */
async function choose(page: Page, name: string | RegExp) {
  const wanted = page.getByRole('radio', { name })
  await expect(wanted).toBeVisible()
  for (let tabs = 0; tabs < 60; tabs++) {
    for (
      let arrows = 0;
      arrows < 4 && (await page.evaluate(() => document.activeElement?.matches('[role=radio]')));
      arrows++
    ) {
      if (await wanted.isChecked()) return
      await page.keyboard.press('ArrowDown')
      await page.waitForTimeout(150)
    }
    await page.keyboard.press('Tab')
  }
  throw new Error(`${String(name)} cannot be reached with the keyboard`)
}

const faults = async (page: Page) =>
  (await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']).analyze()).violations.map(
    one => `${one.id}: ${one.nodes[0]?.html}`,
  )

test('from a new program to the first sentence, by keyboard alone', async ({ browser }) => {
  const context = await browser.newContext({ baseURL: program.url })
  const page = await context.newPage()
  await standInForMidi(page)
  await page.goto('/')
  await expect(page.getByLabel('Name')).toBeFocused()
  await page.keyboard.type('Tove')
  await page.keyboard.press('Enter')

  const heading = (name: string) => page.getByRole('heading', { name, level: 1 })
  await expect(heading('Your keyboard')).toBeVisible()
  await expect(page.getByText('No MIDI keyboard is there yet')).toBeVisible()
  expect(await faults(page)).toEqual([])
  const id = await page.evaluate(() => window.standIn.plug('Test Piano'))
  await expect(page.getByText('Found: Test Piano')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Skip this step' })).toBeVisible()
  await chord(page, id, [60], 100)
  await expect(page.getByText('Test Piano is heard.')).toBeVisible()
  await press(page, 'Go on')

  await expect(heading('Its sound')).toBeFocused()
  await choose(page, /my keyboard is silent/i)
  await press(page, 'Go on')
  await expect(heading('Its delay')).toBeFocused()
  await press(page, 'Skip this step')

  await expect(heading('Your hand')).toBeFocused()
  await chord(page, id, [48, 55, 62])
  await expect(page.getByText('Your hand reaches a major ninth (14 half steps).')).toBeVisible()
  // Two hands are not one.
  await chord(page, id, [40, 72])
  await expect(page.getByText('please play it with one hand')).toBeVisible()
  await press(page, 'Go on')

  await expect(heading('Note names')).toBeFocused()
  await chord(page, id, [70], 100)
  await choose(page, /C D E F G A H/)
  await press(page, 'Go on')
  await expect(heading('What you can play')).toBeFocused()
  await choose(page, /just beginning/i)
  await press(page, 'Go on')

  await expect(heading('A song')).toBeFocused()
  expect(await faults(page)).toEqual([])
  await press(page, 'The Lantern Ferry')
  await expect(heading('Hear it first')).toBeVisible({ timeout: 30_000 })
  await expect(page.getByText('The Lantern Ferry (tune and roots)')).toBeVisible()
  await press(page, 'Hear the part')
  await press(page, 'Stop')
  await press(page, 'Go on')
  await expect(heading('Play it')).toBeVisible()
  await press(page, 'To the Stand', 'Enter', 'link')

  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
  await expect(page.getByText('Test Piano')).toBeVisible()
  await page.keyboard.press('Space')
  // In one's own time: the music waits for the keys. One of them is wrong first.
  const songs = (await (await page.request.get('/api/songs')).json()) as { id: string; edition: string }[]
  const { parts } = (await (
    await page.request.get(`/api/songs/${songs.find(song => song.edition !== '')!.id}/work`)
  ).json()) as { parts: { id: string }[] }
  const part = (await (await page.request.get(`/api/parts/${parts[0]!.id}`)).json()) as {
    stretch: { to: { n: number; d: number } }
    arrangement: { notes: { hand: string; pitch: number; onset: { n: number; d: number } }[] }
  }
  const first = part.arrangement.notes.filter(
    note => note.hand === 'right' && note.onset.n / note.onset.d < part.stretch.to.n / part.stretch.to.d - 1e-9,
  )
  await chord(page, id, [first[0]!.pitch + 1], 60)
  for (const onset of new Set(first.map(note => note.onset.n / note.onset.d))) {
    await chord(
      page,
      id,
      first.filter(note => note.onset.n / note.onset.d === onset).map(note => note.pitch),
      60,
    )
    await page.waitForTimeout(60)
  }
  await expect
    .poll(async () => ((await (await page.request.get('/api/passes?limit=5')).json()) as unknown[]).length, {
      timeout: 30_000,
    })
    .toBe(1)
  await page.keyboard.press('Escape')
  await press(page, /To First steps|First steps/, 'Enter', 'link')
  await expect(heading('What was heard')).toBeVisible()
  await expect(page.locator('.sentence')).toContainText(/before the right key|own time/)
  await press(page, 'To Today', 'Enter', 'link')
  await expect(page.getByRole('heading', { name: 'Today', exact: true })).toBeVisible()
  await expect(page.getByText('The Lantern Ferry').first()).toBeVisible()

  const settings = (await (await page.request.get('/api/settings')).json()) as object
  expect(settings).toMatchObject({
    reachHalfSteps: 14,
    noteNames: 'german',
    coach: { experience: 'new' },
    sound: { midiIsSilent: true },
  })
  await context.close()
})

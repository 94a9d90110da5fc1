import AxeBuilder from '@axe-core/playwright'
import { expect, test, type Page } from '@playwright/test'
import { writeTake } from '#core/formats/midi/write-take'
import { expectedNotes, wholePassage } from '#core/music/passage'
import { CHARACTERS } from '#core/players/habits'
import { simulatePlayer } from '#core/players/simulate'
import { demoScore } from '../material/demo'
import { bandFile, recordingFile } from '../material/midi-tracks'
import { standInForMidi } from '../material/midi-stand-in'
import { answering, firstPicture, newestSession, pick } from '../material/page'

async function stand(page: Page) {
  await page.goto('/songs')
  await page.getByRole('link', { name: /^The Lantern Ferry/ }).click()
  await page
    .getByRole('link', { name: /Practise .*: together/ })
    .first()
    .click()
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
}

async function workbench(page: Page) {
  await page.goto('/songs')
  await page.getByRole('link', { name: /^The Lantern Ferry/ }).click()
  await page.getByRole('link', { name: 'Workbench', exact: true }).click()
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
}

async function preview(page: Page, name: string, content: Uint8Array) {
  await page.goto('/songs/add')
  await answering(page)
  await page.getByLabel('Song file').setInputFiles({ name, mimeType: 'audio/midi', buffer: Buffer.from(content) })
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
}

async function review(page: Page) {
  await newestSession(page)
  const song = (await page.locator('summary i').first().textContent())!
  await page.locator('tbody tr').first().getByRole('cell').nth(6).getByRole('link').click()
  // The page before it stays until this one is there, with pictures of its own.
  await expect(page.getByRole('heading', { name: song, level: 1 })).toBeVisible({ timeout: 30_000 })
  await firstPicture(page)
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
}

async function comparison(page: Page) {
  await newestSession(page)
  await page.locator('tbody').getByRole('checkbox').nth(0).check()
  await page.locator('tbody').getByRole('checkbox').nth(1).check()
  await page.getByRole('link', { name: 'Compare selected passes' }).click()
  await expect(page.getByRole('heading', { name: 'Two passes' })).toBeVisible()
  await firstPicture(page)
}

const VIEWS: [string, (page: Page) => Promise<unknown>][] = [
  ['Songs', page => page.goto('/songs')],
  [
    'Song',
    async page => {
      await page.goto('/songs')
      await page.getByRole('link', { name: /^The Lantern Ferry/ }).click()
      await expect(page.getByRole('heading', { name: /Verse 1, a/ }).first()).toBeVisible()
    },
  ],
  [
    'Today',
    async page => {
      await page.goto('/')
      await expect(page.getByRole('link', { name: /Begin/ }).first()).toBeVisible()
    },
  ],
  [
    'Logbook',
    async page => {
      await page.goto('/logbook')
      await pick(page.getByLabel('Song', { exact: true }), 'The Lantern Ferry')
      await firstPicture(page)
    },
  ],
  ['Two passes', comparison],
  ['Stand', stand],
  [
    'Stand, the whole song',
    async page => {
      await stand(page)
      await page.goto(`${new URL(page.url()).pathname}?from=0/1&to=128/1&hands=both`)
      await expect(page.locator('.row .note').first()).toBeVisible({ timeout: 30_000 })
    },
  ],
  ['Review', review],
  [
    'Add a song',
    async page => {
      await page.goto('/songs/add')
      await answering(page)
      await page.getByRole('tab', { name: 'From a chord chart' }).click()
      await page.getByRole('textbox').first().fill('title: Two Chords\n| C / G/B / | Am |')
      await page.getByRole('button', { name: 'Read the chart' }).click()
      await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
    },
  ],
  ['Workbench', workbench],
  [
    'Workbench, chords',
    async page => {
      await workbench(page)
      await page.getByRole('tab', { name: 'Chords' }).click()
    },
  ],
  [
    'Workbench, notes',
    async page => {
      await workbench(page)
      await page.getByRole('tab', { name: 'Notes' }).click()
    },
  ],
  [
    'Workbench, who plays',
    async page => {
      await workbench(page)
      await page.getByRole('tab', { name: 'Who plays' }).click()
    },
  ],
  ['Add a song, a band', page => preview(page, 'band.mid', bandFile())],
  ['Add a song, a recording', page => preview(page, 'waltz.mid', recordingFile())],
  ['Drills', page => page.goto('/drills')],
  [
    'Drills, building one',
    async page => {
      await page.goto('/drills?tab=build')
      await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
    },
  ],
  [
    'Drills, a pattern on the grid',
    async page => {
      await page.goto('/drills?tab=patterns')
      await answering(page)
      await page.getByRole('button', { name: 'New pattern' }).click()
      await expect(page.getByText(/^In the left hand at 90: difficulty/)).toBeVisible()
    },
  ],
  [
    'Song, a new edition',
    async page => {
      await page.goto('/songs')
      await page
        .getByRole('link', { name: /The Lantern Ferry/ })
        .first()
        .click()
      await page.getByRole('button', { name: 'New edition' }).click()
      await page.getByRole('tab', { name: 'For my hands' }).click()
      await expect(page.getByText(/Difficulty \d/).first()).toBeVisible()
    },
  ],
  [
    'Song, on paper',
    async page => {
      await page.goto('/songs')
      await page.getByRole('link', { name: /^The Lantern Ferry/ }).click()
      await page.getByRole('link', { name: 'Print' }).click()
      await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
    },
  ],
  ['First steps', page => page.goto('/first-steps?step=song')],
  ['Account', page => page.goto('/account')],
  ['Settings', page => page.goto('/settings')],
  ['Licences', page => page.goto('/licences')],
  ['Sign in', page => page.goto('/sign-in')],
]

/** What axe finds against WCAG 2.2 AA; with `coloursOnly` what may differ when only the colours have changed. */
const against = async (page: Page, { coloursOnly = false } = {}) => {
  const axe = new AxeBuilder({ page })
  const found = coloursOnly
    ? await axe.withRules(['color-contrast', 'link-in-text-block']).analyze()
    : await axe.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']).analyze()
  return found.violations.map(one => `${one.id}: ${one.nodes.map(node => node.html.slice(0, 160)).join(' | ')}`)
}

for (const [name, open] of VIEWS) {
  test(`${name}: nothing for axe to find against WCAG 2.2 AA, light or dark; nothing cut off at 200 % zoom or on a tablet held upright; nothing fetched from elsewhere`, async ({
    page,
    baseURL,
  }) => {
    const elsewhere: string[] = []
    page.on('request', request => {
      if (!request.url().startsWith(baseURL!) && !/^(data|blob):/.test(request.url())) elsewhere.push(request.url())
    })
    await page.emulateMedia({ colorScheme: 'light' })
    await open(page)
    expect(await against(page), 'light').toEqual([])
    await page.emulateMedia({ colorScheme: 'dark' })
    await expect(page.locator('html')).toHaveClass(/dark/)
    expect(await against(page, { coloursOnly: true }), 'dark').toEqual([])
    for (const viewport of [
      { width: 640, height: 400 },
      { width: 820, height: 1180 },
    ]) {
      await page.setViewportSize(viewport)
      await expect
        .poll(
          async () =>
            await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth),
          { message: `${viewport.width} px wide` },
        )
        .toBeLessThanOrEqual(0)
    }
    expect(elsewhere).toEqual([])
  })
}

test('a song is reached and begun with the keyboard alone', async ({ page }) => {
  await standInForMidi(page)
  await page.goto('/songs')
  const focusOn = async (name: RegExp) => {
    for (let tabs = 0; tabs < 60; tabs++) {
      await page.keyboard.press('Tab')
      const focused = page.locator(':focus')
      const text = `${(await focused.getAttribute('aria-label')) ?? ''} ${(await focused.textContent()) ?? ''}`
      if (name.test(text)) return
    }
    throw new Error(`${name} was not reached`)
  }
  await focusOn(/Lantern Ferry/)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'The Lantern Ferry', level: 1 })).toBeVisible()
  await focusOn(/Practise .*: left hand/)
  await page.keyboard.press('Enter')
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
  await page.evaluate(() => window.standIn.plug('Test Piano'))
  await page.keyboard.press('Space')
  await expect(page.getByRole('button', { name: /Stop/ })).toBeVisible()
  await page.keyboard.press('Escape')
})

test('a recorded MIDI file of a song is assessed and kept', async ({ page }) => {
  const { arrangement } = demoScore('snow-on-the-towpath.musicxml')
  const { take } = simulatePlayer(
    expectedNotes(arrangement, wholePassage(arrangement, 'both'), 66),
    { ...CHARACTERS.careful, hesitations: [{ bar: 9, beat: 1, ms: 900 }] },
    3,
  )
  await page.goto('/songs')
  await page.getByRole('link', { name: /^Snow on the Towpath/ }).click()
  await page.getByText('Assess a recording').click()
  await answering(page)
  await page
    .getByLabel('MIDI file')
    .setInputFiles({ name: 'no.mid', mimeType: 'audio/midi', buffer: Buffer.from('not a MIDI file at all') })
  await expect(page.getByRole('alert')).toContainText('no.mid: byte 0')
  await page
    .getByLabel('MIDI file')
    .setInputFiles({ name: 'evening.mid', mimeType: 'audio/midi', buffer: Buffer.from(writeTake(take, 120)) })
  await expect(page.getByRole('heading', { name: 'Measurements' })).toBeVisible({ timeout: 30_000 })
  await expect(page.locator('.facts')).toContainText(/about 6\d bpm, no click/)
  await expect(page.locator('.finding').filter({ hasText: 'Bar 9, beat 1' })).not.toHaveCount(0)
  await newestSession(page)
  await expect(page.locator('tbody tr', { hasText: 'Whole song, recorded' })).toHaveCount(1)
})

test('a recording whose assessing is stopped is not kept', async ({ page }) => {
  await page.goto('/songs')
  const count = async () => ((await (await page.request.get('/api/passes?limit=500')).json()) as unknown[]).length
  const before = await count()
  const take = {
    notes: Array.from({ length: 5000 }, (_, index) => ({
      onsetMs: 90 * index,
      durationMs: 80,
      pitch: 48 + ((index * 7) % 24),
      velocity: 70,
    })),
    pedals: [],
  }
  const outcome = await page.evaluate(
    async bytes => {
      const [song] = (await (await fetch('/api/songs')).json()) as { id: string }[]
      const abort = new AbortController()
      setTimeout(() => abort.abort(), 80)
      return await fetch(`/api/songs/${song!.id}/recordings`, {
        method: 'POST',
        body: new Uint8Array(bytes),
        signal: abort.signal,
        headers: { 'content-type': 'application/octet-stream' },
      }).then(
        () => 'answered',
        () => 'stopped',
      )
    },
    [...writeTake(take, 120)],
  )
  expect(outcome).toBe('stopped')
  // Answered once the assessing is over.
  expect((await page.request.get('/api/health', { timeout: 60_000 })).ok()).toBe(true)
  await page.waitForTimeout(1000)
  expect(await count()).toBe(before)
})

test('a new player makes an account of their own, with nothing in it yet', async ({ page }) => {
  await page.goto('/sign-in')
  await answering(page)
  await page.getByRole('button', { name: 'Create an account' }).click()
  await page.getByLabel('Name').fill(`Player ${Date.now()}`)
  await page.getByLabel('Password').fill('short')
  await page.getByRole('button', { name: 'Create account' }).click()
  await expect(page.getByText('A password needs at least 10 characters')).toBeVisible()
  await page.getByLabel('Password').fill('a long enough password')
  await page.getByRole('button', { name: 'Create account' }).click()
  await expect(page.getByRole('heading', { name: 'Your keyboard' })).toBeVisible()
  await page.getByRole('link', { name: 'Songs' }).click()
  await expect(page.getByText('No songs yet')).toBeVisible()
  await page.getByRole('link', { name: 'Logbook' }).click()
  await expect(page.getByText('Each pass will appear here')).toBeVisible()
  await page.getByRole('button', { name: /: account$/ }).click()
  await page.getByRole('menuitem', { name: 'Sign out', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible()
  // On this machine the demo's player takes over again.
  await page.goto('/songs')
  await expect(page.getByRole('link', { name: /^The Lantern Ferry/ })).toBeVisible()
})

test('a wrong password is refused without saying which of the two was wrong', async ({ page }) => {
  await page.goto('/sign-in')
  await answering(page)
  await page.getByLabel('Name').fill('Nobody at all')
  await page.getByLabel('Password').fill('a long enough password')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('alert')).toContainText('no account has this name and password')
})

test('a part that comes back says what is known from before, and the song its form', async ({ page }) => {
  await page.goto('/songs')
  await page.getByRole('link', { name: /^The Lantern Ferry/ }).click()
  await answering(page)
  await page.getByRole('button', { name: /^Verse 2/ }).click()
  await page.getByRole('button', { name: /Verse 2, a$/ }).click()
  const part = page.getByRole('article', { name: 'The chosen part' })
  await expect(part.getByRole('heading', { level: 2 })).toHaveText('Verse 2, a')
  await expect(part.locator('li.right')).toContainText('as in Verse 1, a')
  await expect(part.locator('li.left')).toContainText('as in Verse 1, a, but bar 8, beat 4: D added')
  await expect(page.locator('.form')).toContainText('Verse 1 – Verse 2 – Bridge – Verse 3')
})

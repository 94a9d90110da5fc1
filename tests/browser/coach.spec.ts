import type { APIRequestContext, Page } from '@playwright/test'
import { expectedNotes, spanPassage, type ExpectedNote } from '#core/music/passage'
import type { Quarters } from '#core/music/quarters'
import { seededChance } from '#core/players/randomness'
import { demoScore } from '../material/demo'
import { answering, firstPicture, pick } from '../material/page'
import { standInForMidi } from '../material/midi-stand-in'
import { expect, test } from '../material/player'

/** A player of their own: what the other tests have played says nothing here. */
async function newPlayer(page: Page, name: string): Promise<string> {
  await page.context().clearCookies()
  const answer = await page.request.post('/api/accounts', { data: { name, password: 'a long enough password' } })
  expect(answer.ok(), await answer.text()).toBe(true)
  const bytes = await (await import('node:fs/promises')).readFile('demo/snow-on-the-towpath.musicxml')
  const made = await page.request.post('/api/songs?name=snow-on-the-towpath.musicxml', {
    data: bytes,
    headers: { 'content-type': 'application/octet-stream' },
  })
  expect(made.ok(), await made.text()).toBe(true)
  return ((await made.json()) as { id: string }).id
}

const { arrangement } = demoScore('snow-on-the-towpath.musicxml')
interface Shown {
  kind: string
  name: string
  hands: 'right' | 'left' | 'both'
  mode: 'own-time' | 'steady'
  bpm: number
  stretch: { from: Quarters; to: Quarters }
  isSpot: boolean
  because: string
}
const nextOf = async (request: APIRequestContext, songId: string, at = new Date()) =>
  (await (await request.get(`/api/songs/${songId}?at=${at.toISOString()}`, { maxRetries: 3 })).json()) as {
    stairs: { next?: Shown; progress: number }
    parts: { id: string }[]
  }

/** Sends one pass to the server as the Stand would; wrong at the notes that `fails` names. */
async function send(
  request: APIRequestContext,
  partId: string,
  next: Shown,
  startedAt: Date,
  fails: (note: ExpectedNote, index: number) => boolean,
) {
  const expected = expectedNotes(arrangement, spanPassage(next.stretch.from, next.stretch.to, next.hands), next.bpm)
  // A key that both hands have is struck once.
  const struck = expected.filter(
    (note, index) =>
      !expected.slice(0, index).some(other => other.pitch === note.pitch && Math.abs(other.onsetMs - note.onsetMs) < 1),
  )
  const notes = struck.map((note, index) => ({
    onsetMs: Math.max(0, note.onsetMs),
    durationMs: note.durationMs * 0.85,
    pitch: note.pitch + (fails(note, index) ? 1 : 0),
    velocity: 70,
  }))
  // In own time the wrong key is followed by the right one.
  const played =
    next.mode === 'own-time'
      ? notes.flatMap((note, index) =>
          note.pitch === struck[index]!.pitch
            ? [note]
            : [note, { ...note, pitch: note.pitch - 1, onsetMs: note.onsetMs + 1 }],
        )
      : notes
  const answer = await request.post('/api/passes', {
    maxRetries: 3,
    data: {
      id: crypto.randomUUID(),
      partId,
      hands: next.hands,
      mode: next.mode,
      bpm: next.bpm,
      stretch: next.stretch,
      startedAt: startedAt.toISOString(),
      lengthMs: 12_000,
      offsetMs: 0,
      take: { notes: played, pedals: [] },
    },
  })
  expect(answer.status(), await answer.text()).toBe(201)
}

test('the Logbook of the first evening: pictures that have nothing to show say so, and one day is shown among days', async ({
  page,
}) => {
  const songId = await newPlayer(page, `First evening ${Date.now()}`)
  await page.goto('/logbook')
  const {
    stairs: { next },
    parts,
  } = await nextOf(page.request, songId)
  await send(
    page.request,
    parts[0]!.id,
    { ...next!, hands: 'both', mode: 'steady' },
    new Date(),
    (_, index) => index % 2 === 1,
  )
  await page.goto(`/logbook?song=${songId}`)
  await expect(page.getByText('Fastest clean pass of each day: none with the click yet.')).toBeVisible()
  await expect(page.getByText('Passes to reach each step: no step has been reached yet.')).toBeVisible()
  await page.locator('.plot').last().scrollIntoViewIfNeeded()
  await expect(page.locator('.plot').last().locator('.bars path')).toHaveCount(1)
  const wide = await page
    .locator('.plot')
    .last()
    .locator('.bars path')
    .evaluate(bar => bar.getBoundingClientRect().width)
  expect(wide).toBeGreaterThan(10)
  await expect(page.locator('.plot').last().locator('.xtick').first()).toContainText(/^[A-Z][a-z]{2} \d+/)
  // A chord of one pass is one pass.
  const times = (await (await page.request.get(`/api/logbook/notes?song=${songId}`)).json()) as { count: number }[]
  expect(new Set(times.map(note => note.count))).toEqual(new Set([1]))
})

test('from the first pass to a join, with a hard spot on the way; Today, the stairs and the Logbook agree', async ({
  page,
}) => {
  test.setTimeout(300_000)
  const songId = await newPlayer(page, `Part by part ${Date.now()}`)
  await page.request.patch('/api/settings', { data: { coach: { school: 'turns', gate: 3, ownTimeGate: 1, steps: 3 } } })
  await page.goto('/')
  await expect(page.locator('.first')).toContainText('own time')

  // A learner for whom one place is hard, until it has been practised alone.
  const chance = seededChance(7)
  const kinds = new Set<string>()
  // All on this day, also soon after midnight.
  let at = Math.max(Date.now() - 3 * 3_600_000, new Date().setHours(0, 1, 0, 0))
  let spotCured = false
  let passes = 0
  let hardPart: string | undefined
  for (; passes < 320; passes++) {
    const {
      stairs: { next },
      parts,
    } = await nextOf(page.request, songId, new Date(at))
    if (!next) break
    kinds.add(next.isSpot ? 'spot' : `${next.kind} ${next.mode}`)
    if (next.isSpot) spotCured = true
    if (next.kind === 'pair') break
    const isHard = !spotCured && next.kind === 'part' && next.mode === 'steady' && next.hands === 'right'
    if (isHard) hardPart ??= next.name
    await send(page.request, parts[0]!.id, next, new Date(at), (note, index) =>
      isHard && next.name === hardPart ? index === 5 : chance.happens(0.002),
    )
    at += 15_000
  }
  for (const kind of ['part own-time', 'part steady', 'spot', 'seam steady']) expect([...kinds]).toContain(kind)
  expect([...kinds]).toContain('pair steady')

  await page.goto(`/songs/${songId}`)
  await expect(page.getByRole('button', { name: /^Together at \d+, .+, reached$/ }).first()).toBeVisible()
  await expect(page.getByRole('link', { name: /The seam of .+: joined/ }).first()).toBeVisible()
  // The hard place is remembered by name.
  const { stairs: climbed, parts } = (await (await page.request.get(`/api/songs/${songId}`)).json()) as {
    stairs: { parts: { mended: unknown[] }[][] }
    parts: { name: string; section: string }[]
  }
  const mended = parts[climbed.parts.findIndex(stages => stages.some(stage => stage.mended.length > 0))]!
  await page
    .getByRole('group', { name: 'Sections' })
    .getByRole('button', { name: new RegExp(`^${mended.section} (both|all|ready|\\d)`) })
    .click()
  await page.getByRole('button', { name: new RegExp(`^[A-Z] ${mended.name}$`) }).click()
  await expect(page.getByText(/Hard spots? fixed: bar \d+/).first()).toBeVisible()
  await page.goto('/logbook')
  await expect(page.locator('.totals')).toContainText(`${passes} passes`)
  await firstPicture(page)
  await pick(page.getByLabel('Song', { exact: true }), /^(?!all songs)/)
  await expect(page.locator('.plot').filter({ hasText: /ecent mistakes/ })).toBeVisible()
  // The gates are those of the stairs, each twin's once; a machine's notes come when they should.
  const gates = (await (await page.request.get(`/api/logbook/gates?song=${songId}`)).json()) as {
    passes: number
    bpm: number
    hands: string
  }[]
  const { stairs } = (await (await page.request.get(`/api/songs/${songId}`)).json()) as {
    stairs: { parts: { gates: { passes: number }[] }[][]; joins: { gates: { passes: number }[] }[] }
  }
  const shown = [...stairs.parts.flat(), ...stairs.joins].flatMap(stage => stage.gates)
  expect(gates.length).toBeGreaterThan(3)
  expect(gates.length).toBeLessThanOrEqual(shown.length)
  expect(gates.every(gate => shown.some(one => one.passes === gate.passes))).toBe(true)
  const times = (await (await page.request.get(`/api/logbook/notes?song=${songId}`)).json()) as {
    at: number
    low: number
    median: number
    high: number
    count: number
  }[]
  expect(times.length).toBeGreaterThan(5)
  expect(Math.max(...times.map(note => note.count))).toBeLessThanOrEqual(20)
  expect(times.every(note => Math.abs(note.median) <= 1 && note.low <= note.median && note.median <= note.high)).toBe(
    true,
  )
  expect(times.map(note => note.at)).toEqual([...times.map(note => note.at)].sort((a, b) => a - b))
  await page.goto('/')
  await expect(page.locator('.played')).toContainText(`${Math.round((passes * 12) / 60)} of`)

  // The export has every pass, and the calendar the coming days.
  const csv = (await (await page.request.get('/api/logbook/export?format=csv')).text()).trim().split('\n')
  expect(csv.length).toBe(passes + 1)
  const json = (await (await page.request.get('/api/logbook/export?format=json')).json()) as {
    passes: { mode: string }[]
  }
  expect(json.passes.filter(pass => pass.mode === 'own-time').length).toBeGreaterThan(0)
  const ics = await (await page.request.get('/api/today/calendar')).text()
  expect(ics.match(/BEGIN:VEVENT/g)!.length).toBe(14)
  expect(ics.split('\r\n').every(line => new TextEncoder().encode(line).length <= 75)).toBe(true)

  // A week later: the page's clock is set, and what was learned comes back.
  await page.clock.install({ time: new Date(Date.now() + 7 * 86_400_000) })
  await page.goto('/')
  await expect(page.getByText('Review', { exact: true }).first()).toBeVisible()
  const review = page
    .locator('.items li')
    .filter({ has: page.getByText('Review', { exact: true }) })
    .first()
  await review.getByRole('link', { name: /Begin/ }).hover()
  await expect(page.getByText(/days ago/).first()).toBeVisible()
  const name = (await review.locator('b').textContent())!
  await review.getByRole('button', { name: /Skip/ }).click()
  await expect(page.locator('.skipped li')).toContainText('Review')
  await page.getByRole('button', { name: 'Undo skip' }).click()
  await expect(
    page
      .locator('.items li')
      .filter({ has: page.getByText('Review', { exact: true }) })
      .first(),
  ).toContainText(name.slice(0, 5))
  await expect(page.getByText(/% done/)).toBeVisible()
})

test('a first half hour in the usual order: hands together early, parts joined slowly, and the second day goes on where the first one ended', async ({
  page,
}) => {
  test.setTimeout(300_000)
  const songId = await newPlayer(page, `Beginner ${Date.now()}`)
  await page.goto('/')
  const first = page.locator('.items li').first()
  await expect(first).toContainText('Learn')
  await expect(first).toContainText('in your own time')
  await expect(first).toContainText('then')

  // Somebody who needs two or three goes at everything that is new.
  const start = Math.max(Date.now() - 3 * 3_600_000, new Date().setHours(0, 1, 0, 0))
  const tries = new Map<string, number>()
  const played: Shown[] = []
  let parts: { id: string }[] = []
  for (let at = start; at < start + 30 * 60_000; at += 25_000) {
    const now = await nextOf(page.request, songId, new Date(at))
    const { next } = now.stairs
    if (!next) break
    parts = now.parts
    const thing = `${next.kind} ${next.hands} ${next.mode} ${next.stretch.from.n}/${next.stretch.from.d}`
    tries.set(thing, (tries.get(thing) ?? 0) + 1)
    await send(page.request, parts[0]!.id, next, new Date(at), (_, index) => tries.get(thing)! < 2 && index % 4 === 1)
    played.push(next)
  }
  const firstOf = (is: (one: Shown) => boolean) => played.findIndex(is) + 1
  expect(firstOf(one => one.kind === 'part' && one.hands === 'both')).toBeGreaterThan(0)
  expect(firstOf(one => one.kind === 'part' && one.hands === 'both')).toBeLessThanOrEqual(12)
  expect(firstOf(one => one.kind === 'seam' || one.kind === 'pair')).toBeGreaterThan(0)
  expect(firstOf(one => one.kind === 'seam' || one.kind === 'pair')).toBeLessThanOrEqual(36)
  const target = ((await (await page.request.get(`/api/songs/${songId}/coach`)).json()) as { parts: unknown[] }).parts
    .length
  expect(target).toBeGreaterThan(3)

  // On the Song view the first part's landing is reached, slowly; what comes next is said with its reason.
  await page.goto(`/songs/${songId}`)
  await expect(page.getByRole('button', { name: /^Together at \d+, .+, reached$/ }).first()).toBeVisible()

  // The next day begins with something known and goes on where the first one ended.
  const evening = (await nextOf(page.request, songId, new Date(start + 31 * 60_000))).stairs.next!
  const tomorrow = new Date(start + 86_400_000)
  const morning = (await nextOf(page.request, songId, tomorrow)).stairs.next!
  expect([morning.kind, morning.hands, morning.stretch]).toEqual([evening.kind, evening.hands, evening.stretch])
  await page.clock.install({ time: tomorrow })
  await page.goto('/')
  await expect(page.locator('.first')).toContainText('Warm-up')
  const work = page.locator('.items li').filter({ hasText: /^\s*(Learn|Join|Hard spot)/ })
  await expect(work.first()).toBeVisible()
  // Never five new things beside each other: parts come one after the other.
  const names = await work.locator('b').allTextContents()
  expect(new Set(names).size).toBe(names.length)
  const links = await page.getByRole('link', { name: /^Begin / }).count()
  expect(links).toBeGreaterThan(1)
})

test("settings of the coach are kept with their reasons, and a pass and a day take the player's words", async ({
  page,
}) => {
  await newPlayer(page, `Setter ${Date.now()}`)
  await page.goto('/settings')
  await answering(page)
  await page.getByRole('button', { name: 'Thorough' }).click()
  await expect(page.getByLabel('Clean passes')).toContainText('5 in a row')
  await pick(page.getByLabel('Order of practice'), 'from the end backwards, slow first')
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible()
  await expect
    .poll(async () => ((await (await page.request.get('/api/settings')).json()) as { coach: object }).coach)
    .toMatchObject({ gate: 5, restBars: 1, school: 'backward' })
  await standInForMidi(page)
  await page.reload()
  await answering(page)
  const id = await page.evaluate(() => window.standIn.plug('Test Piano'))
  await page.getByRole('button', { name: 'Assign a key to Again' }).click()
  await page.evaluate(input => window.standIn.sendNow(input, [0x90, 22, 60]), id)
  await expect(page.getByText('the key B♭0')).toBeVisible()
  await page.goto('/')
  await answering(page)
  await page.getByRole('textbox', { name: 'Notes for today' }).fill('Slowly it comes.')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('Saved.')).toBeVisible()
  await page.getByRole('radio', { name: '10' }).click()
  await expect(page.locator('.played')).toContainText('of 10 min')
  await page.reload()
  await expect(page.getByRole('textbox', { name: 'Notes for today' })).toHaveValue('Slowly it comes.')
})

import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'
import { writeArrangementMidi } from '#core/formats/midi/write-arrangement'
import { writeMusicXml } from '#core/formats/musicxml/write'
import { demoScore } from '../material/demo'
import { standInForMidi, strokes } from '../material/midi-stand-in'
import { answering, pick, slide } from '../material/page'
import { songOfSections } from '../material/phrases'
import { bandFile, beatMs, recordingFile } from '../material/midi-tracks'
import { attributes, note, partsScore, pianoScore, quarterNotes } from '../material/score'
import { runOnTestClock } from '../material/test-clock'
import { expect, test } from '../material/player'

async function choose(page: Page, name: string, content: string | Uint8Array) {
  await page.goto('/songs/add')
  await answering(page)
  await page
    .getByLabel('Song file')
    .setInputFiles({ name, mimeType: 'application/octet-stream', buffer: Buffer.from(content as string) })
}

const understood = (page: Page) => page.getByRole('region', { name: 'Check the import' })

/** Saves what was understood and gives the song's heading. */
async function save(page: Page, title: string) {
  await page.getByRole('button', { name: 'Save the song' }).click()
  await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible({ timeout: 30_000 })
}

async function putAway(page: Page) {
  await page.getByRole('button', { name: 'More for this song' }).click()
  await page.getByRole('menuitem', { name: 'Put away' }).click()
  await expect(page.getByText('This song is put away')).toBeVisible()
}

test('a score is previewed with what is not used in it, saved under another title, put away and taken out again', async ({
  page,
}) => {
  const score = pianoScore([
    attributes() + quarterNotes('C4 D4 E4 F4') + '<figured-bass/>',
    note({ pitch: 'G4', length: 4 }),
  ])
  await choose(page, 'two bars.musicxml', score)
  await expect(understood(page)).toContainText('MusicXML · 2 bars · right hand 5 notes')
  await understood(page).getByText('Not imported from the file').click()
  await expect(understood(page)).toContainText('<figured-bass> is not used')
  await understood(page).getByLabel('Title').fill('Two Bars in C')
  await understood(page).getByLabel('Title').blur()
  await save(page, 'Two Bars in C')
  await putAway(page)
  await page.goto('/songs')
  await expect(page.getByRole('link', { name: /^Two Bars in C/ })).toHaveCount(0)
  await answering(page)
  await page.getByText('Put away (').click()
  await page
    .getByRole('listitem')
    .filter({ hasText: 'Two Bars in C' })
    .getByRole('button', { name: 'Take out again' })
    .click()
  await expect(page.getByRole('link', { name: /^Two Bars in C/ })).toBeVisible()
  await page.getByRole('link', { name: /^Two Bars in C/ }).click()
  await putAway(page)
})

test('a choir: who sings what is shown, the highest and the lowest are the hands, and it is decided otherwise', async ({
  page,
}) => {
  const voices = [
    ['Soprano', 'E5 F5 G5 A5'],
    ['Alto', 'G4 G4 C5 C5'],
    ['Tenor', 'C4 D4 E4 F4'],
    ['Bass', 'C3 B2 C3 F2'],
  ] as const
  await choose(
    page,
    'choir.musicxml',
    partsScore(
      voices.map(([name, notes]) => [name, `<measure number="1">${attributes()}${quarterNotes(notes)}</measure>`]),
    ),
  )
  const who = understood(page).getByRole('region', { name: 'Who plays what' })
  const plays = (name: string) => who.getByLabel(`${name} is played by`)
  await expect(who).toContainText('4 notes · E5 to A5')
  await expect(plays('Soprano')).toHaveText('the right hand')
  await expect(plays('Alto')).toHaveText('both hands (split automatically)')
  await expect(plays('Bass')).toHaveText('the left hand')
  await expect(understood(page)).toContainText('"Soprano" is the right hand and "Bass" the left')
  await pick(plays('Soprano'), 'another player')
  await pick(plays('Alto'), 'the right hand')
  await pick(plays('Tenor'), 'nobody')
  await expect(understood(page)).toContainText('right hand 4 notes, left hand 4 · beside the hands: Soprano')
  await understood(page).getByLabel('Title').fill('Four Voices')
  await understood(page).getByLabel('Title').blur()
  await save(page, 'Four Voices')
  await putAway(page)
})

test('a MIDI file: hands, meter and key are shown, and a guess is decided otherwise', async ({ page }) => {
  await choose(page, 'evening.mid', writeArrangementMidi(demoScore('snow-on-the-towpath.musicxml').arrangement))
  await expect(understood(page)).toContainText('MIDI · ')
  await expect(understood(page).getByLabel('Meter')).toHaveText('3/4')
  await expect(understood(page).getByLabel('Right hand is played by')).toHaveText('the right hand')
  await pick(understood(page).getByLabel('Meter'), '6/8')
  await expect(understood(page).getByLabel('Meter')).toHaveText('6/8')
  await expect(understood(page).locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
  await understood(page).getByLabel('Title').fill('Evening from a MIDI file')
  await understood(page).getByLabel('Title').blur()
  await save(page, 'Evening from a MIDI file')
  await expect(page.locator('.facts')).toContainText('6/8')
  await putAway(page)
})

test('a band: melody and bass are proposed, each is heard alone, and who plays is decided again on the Workbench', async ({
  page,
}) => {
  await choose(page, 'band.mid', bandFile())
  const who = understood(page).getByRole('region', { name: 'Who plays what' })
  const plays = (name: string) => page.getByLabel(`${name} is played by`)
  await expect(plays('Lead vocal')).toHaveText('the right hand')
  await expect(plays('Strings')).toHaveText('the left hand')
  await expect(plays('Bass')).toHaveText('the left hand')
  await expect(plays('Fill')).toHaveText('another player')
  await plays('Kit').click()
  await expect(page.getByRole('option')).toHaveText(['another player', 'nobody'])
  await page.keyboard.press('Escape')
  await expect(who).toContainText('drums · 64 notes')
  await expect(understood(page)).toContainText('"Lead vocal" is taken as the melody')
  await expect(who.getByRole('button', { name: 'Listen to Kit alone' })).toBeDisabled()
  await who.getByRole('button', { name: 'Listen to Bass alone' }).click()
  await who.getByRole('button', { name: 'Stop' }).click()
  await understood(page).getByLabel('Title').fill('Band of Five')
  await understood(page).getByLabel('Title').blur()
  await save(page, 'Band of Five')
  await page.getByRole('link', { name: 'Workbench', exact: true }).click()
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
  await answering(page)
  await page.getByRole('tab', { name: 'Who plays' }).click()
  await expect(plays('Bass')).toHaveText('the left hand')
  await pick(plays('Lead vocal'), 'another player')
  await expect(page.getByText('Saved, revision 2')).toBeVisible({ timeout: 15_000 })
  await expect(plays('Lead vocal')).toHaveText('another player')
  await page.getByRole('button', { name: 'Swap hands' }).click()
  await expect(page.getByText('Saved, revision 3')).toBeVisible({ timeout: 15_000 })
  await expect(plays('Bass')).toHaveText('the right hand')
  // On the Stand the band's own staves are not drawn.
  await page.goto('/songs')
  await page.getByRole('link', { name: /^Band of Five/ }).click()
  await page
    .getByRole('link', { name: /^Practise .*: / })
    .first()
    .click()
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
  await expect(
    page.locator('.engraving svg .system').first().locator('.measure').first().locator('.staff'),
  ).toHaveCount(2)
  await page.goto('/songs')
  await page.getByRole('link', { name: /^Band of Five/ }).click()
  await putAway(page)
})

test('a recording without a click: its beats are heard, a bar line is moved, and tapping along decides', async ({
  page,
}) => {
  await runOnTestClock(page)
  await choose(page, 'waltz.mid', recordingFile())
  await expect(understood(page).getByRole('radio', { name: /detected from your playing/ })).toBeChecked()
  await expect(understood(page).getByLabel('Meter')).toHaveText('3/4')
  await expect(understood(page)).toContainText('the beat was found in the playing: about 9')
  const line = understood(page).getByRole('slider', { name: 'Bar line before bar 2', exact: true })
  await expect(line).toHaveAttribute('aria-valuetext', 'bar 2, beat 1', { timeout: 30_000 })
  const before = Number(await line.getAttribute('aria-valuenow'))
  await line.focus()
  await page.keyboard.press('ArrowRight')
  // The bar begins a quarter later now, and the first one has a quarter before it.
  await expect(understood(page).getByLabel('Pickup')).not.toHaveText('none')
  await expect(understood(page).getByRole('slider').first()).not.toHaveAttribute('aria-valuenow', String(before))

  await understood(page).getByRole('button', { name: 'Tap along' }).click()
  await page.waitForFunction(() => performance.getEntriesByName('half-step:listening').length > 0)
  const beats = Array.from({ length: 16 }, (_, beat) => beatMs(beat))
  await page.evaluate(async times => {
    const begin = performance.getEntriesByName('half-step:listening').at(-1)!.startTime
    for (const ms of times) {
      await new Promise(resolve => setTimeout(resolve, Math.max(0, begin + ms - performance.now())))
      window.dispatchEvent(new KeyboardEvent('keydown', { code: 'Space', key: ' ', bubbles: true, cancelable: true }))
    }
  }, beats)
  await expect(understood(page)).toContainText('16 so far')
  await understood(page).getByRole('button', { name: 'Use these beats' }).click()
  await expect(understood(page).getByRole('radio', { name: /tapped by me/ })).toBeChecked()
  await expect(understood(page)).toContainText('written on the beats that were tapped')
  await expect(understood(page).getByLabel('Meter')).toHaveText('3/4')
  await understood(page).getByLabel('Title').fill('Tapped Waltz')
  await understood(page).getByLabel('Title').blur()
  await save(page, 'Tapped Waltz')
  await expect(page.locator('.facts')).toContainText('3/4')
  await putAway(page)
})

test('a chord chart becomes chords to practise; ChordPro too', async ({ page }) => {
  await choose(page, 'lock.txt', 'title: Evening at the Lock\n[Verse]\n| C / G/B / | Am / / / |\n[Chorus]\n| F | C G |')
  await expect(understood(page)).toContainText('chord chart · 4 bars')
  await expect(understood(page)).toContainText('the left hand plays “Held root”, the right hand “Held chord”')
  await save(page, 'Evening at the Lock')
  await expect(page.getByRole('button', { name: /Chorus$/ })).toBeVisible()
  await putAway(page)
  await choose(page, 'low.cho', '{title: Low Water}\n{sov}\n[C]Slow and [G7]grey\n{eov}')
  await expect(understood(page)).toContainText('the chart does not say how long its chords last')
  await pick(understood(page).getByLabel('Each chord lasts'), 'half a bar')
  await expect(understood(page)).toContainText('chord chart · 1 bars')
  await save(page, 'Low Water')
  await putAway(page)
})

test('a file that is no song is refused in words, and nothing is kept of it', async ({ page }) => {
  await choose(page, 'broken.musicxml', '<score-partwise><part-list/>')
  await expect(page.getByRole('alert')).toContainText('broken.musicxml: line 1, column')
  await choose(page, 'notes.txt', 'dear diary')
  await expect(page.getByRole('alert')).toContainText('a chord chart')
  await expect(page.getByRole('button', { name: 'Save the song' })).toHaveCount(0)
})

/** A song of its own for what changes it. */
async function workOn(page: Page, title: string) {
  const bars = Array.from(
    { length: 8 },
    (_, index) =>
      (index === 0 ? attributes({ staves: 2 }) : '') +
      quarterNotes(['C5 D5 E5 F5', 'G5 F5 E5 D5'][index % 2]!, 1) +
      '<backup><duration>480</duration></backup>' +
      note({ pitch: 'C3', length: 2, staff: 2 }) +
      note({ pitch: 'G3', length: 2, staff: 2 }),
  )
  await choose(page, `${title}.musicxml`, pianoScore(bars))
  await save(page, title)
  await page.getByRole('link', { name: 'Workbench', exact: true }).click()
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
  await answering(page)
}

test("a part's edge is dragged and moved by keys, the part named and the order changed, undone, redone and kept", async ({
  page,
}) => {
  await workOn(page, 'Edges')
  const end = page.getByRole('slider', { name: 'End of the part' })
  await expect(page.getByRole('listitem').filter({ hasText: 'bars 1 to 4' })).toHaveCount(1)
  await end.focus()
  await page.keyboard.press('ArrowRight')
  await expect(end).toHaveAttribute('aria-valuetext', 'bar 1 to bar 5, beat 1')
  await page.keyboard.press('ArrowLeft')
  await expect(end).toHaveAttribute('aria-valuetext', 'bars 1 to 4')

  // The notation is drawn anew when an edge comes to another bar.
  await expect(page.locator('.engraving .measure')).toHaveCount(5)
  const third = page.locator('.engraving .measure').nth(2)
  let target = { x: 0, y: 0 }
  await expect
    .poll(async () => {
      const before = target
      target = (await third.boundingBox()) ?? before
      return target.x > 0 && target.x === before.x
    })
    .toBe(true)
  const box = (await end.boundingBox())!
  await page.mouse.move(box.x + box.width / 2, box.y + 20)
  await page.mouse.down()
  await page.mouse.move(target.x + 12, target.y + 20, { steps: 6 })
  await page.mouse.up()
  await expect(end).toHaveAttribute('aria-valuetext', 'bars 1 to 2')
  await expect(page.getByRole('listitem').filter({ hasText: 'bars 3 to 8' })).toHaveCount(1)

  await page.getByLabel('Name of the part').fill('Opening')
  await page.getByLabel('Name of the part').press('Enter')
  await page.getByRole('button', { name: 'Move later' }).click()
  await expect(page.locator('.bench li.part').nth(1)).toContainText('bars 1 to 2')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.locator('.bench li.part').nth(0)).toContainText('bars 1 to 2')
  await page.getByRole('button', { name: 'Redo' }).click()
  await page.keyboard.press('Control+s')
  await expect(page.getByText('Saved, revision 1')).toBeVisible()
  await page.reload()
  await expect(page.locator('.bench li.part').nth(0)).toContainText('bars 3 to 8')
  await page.getByRole('link', { name: 'Edges' }).click()
  await expect(page.getByRole('button', { name: /Opening$/ })).toBeVisible()
  await putAway(page)
})

test('a finger is set by a digit, a wrong note corrected, and both stand on the page after saving', async ({
  page,
}) => {
  await workOn(page, 'Fingers')
  const digits = page.locator('.digit')
  await expect(digits.first()).toBeVisible()
  await page.keyboard.press('ArrowRight')
  await expect(page.getByRole('group', { name: 'Finger of C5' })).toBeVisible()
  await page.keyboard.press('2')
  const first = page.locator('.digit.kept').first()
  await expect(first).toHaveText('2')
  await expect(page.getByRole('group', { name: 'Finger of D5' })).toBeVisible()
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('ArrowUp')
  await expect(page.getByRole('group', { name: 'Finger of E5' })).toBeVisible()
  await page.keyboard.press('Control+z')
  await expect(page.getByRole('group', { name: 'Finger of E♭5' })).toBeVisible()
  await page.getByRole('tab', { name: 'Notes' }).click()
  await page.getByRole('textbox', { name: 'Chord' }).fill('Am7')
  await page.getByRole('textbox', { name: 'Chord' }).press('Enter')
  await page.getByRole('textbox', { name: 'Chord' }).fill('what')
  await page.getByRole('textbox', { name: 'Chord' }).press('Enter')
  await expect(page.getByRole('alert')).toContainText('not a chord symbol')
  await page.getByRole('tab', { name: 'Chords' }).click()
  await expect(page.getByRole('rowheader', { name: 'Am7' })).toBeVisible()
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('Saved, revision 2')).toBeVisible()
  await page.getByRole('link', { name: 'Fingers' }).click()
  await page
    .getByRole('link', { name: /Practise .*: right hand/ })
    .first()
    .click()
  await expect(page.locator('.engraving svg .fing').first()).toHaveText('2', { timeout: 30_000 })
  await page.goBack()
  await putAway(page)
})

/**
 * Every drawn thing of the notation in view, by what it looks like: its shapes and places, but for the ids of single
 * files.
 */
const drawn = async (page: Page, of: string) =>
  await page
    .locator(of)
    .evaluateAll(ones =>
      ones.map(one => one.outerHTML.replace(/ id="[^"]*"/g, '').replace(/(href="#[0-9A-F]+)-\w+/g, '$1')),
    )

test('after one corrected note and one finger the rest of the page is drawn as before', async ({ page }) => {
  const strange =
    '<direction placement="above"><direction-type><words font-style="italic">Trio</words></direction-type></direction>' +
    note({
      pitch: 'C5',
      length: 0.5,
      extra: '<beam number="1">begin</beam><notations><slur type="start"/></notations>',
    }) +
    note({ pitch: 'D5', length: 0.5, extra: '<beam number="1">end</beam><notations><slur type="stop"/></notations>' }) +
    '<direction placement="above"><direction-type><octave-shift type="down" size="8"/></direction-type></direction>' +
    note({ pitch: 'E6', length: 1 }) +
    '<direction><direction-type><octave-shift type="stop" size="8"/></direction-type></direction>' +
    ['C5', 'D5', 'E5']
      .map(
        pitch =>
          `<note><pitch><step>${pitch[0]}</step><octave>5</octave></pitch><duration>80</duration><voice>1</voice><type>quarter</type><time-modification><actual-notes>3</actual-notes><normal-notes>2</normal-notes></time-modification></note>`,
      )
      .join('')
  await choose(
    page,
    'strange.musicxml',
    pianoScore([attributes() + strange, quarterNotes('G4 A4 B4 C5'), strange, quarterNotes('C5 B4 A4 G4')]),
  )
  await understood(page).getByLabel('Title').fill('Strange but Plain')
  await understood(page).getByLabel('Title').blur()
  await save(page, 'Strange but Plain')
  await page.getByRole('link', { name: 'Workbench', exact: true }).click()
  const notes = page.locator('.engraving svg .note')
  await expect(notes.first()).toBeVisible({ timeout: 30_000 })
  await answering(page)
  await expect(page.locator('.engraving svg .octave')).not.toHaveCount(0)
  const before = {
    words: await drawn(page, '.engraving svg .dir'),
    measures: await drawn(page, '.engraving svg .measure'),
  }
  expect(before.words.join()).toContain('Trio')
  // The second note of bar 2 becomes a half step higher, the note after it has a finger.
  for (let note = 0; note < 8; note++) await page.keyboard.press('ArrowRight')
  await expect(page.getByRole('group', { name: 'Finger of A4' })).toBeVisible()
  await page.keyboard.press('ArrowUp')
  await expect(
    page.getByRole('group', { name: 'Finger of B♭4' }).or(page.getByRole('group', { name: 'Finger of A♯4' })),
  ).toBeVisible()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('3')
  await expect(page.locator('.engraving svg .accid')).not.toHaveCount(0)
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('Saved, revision 2')).toBeVisible({ timeout: 15_000 })
  const after = {
    words: await drawn(page, '.engraving svg .dir'),
    measures: await drawn(page, '.engraving svg .measure'),
  }
  expect(after.measures).toHaveLength(before.measures.length)
  expect(after.measures[0]).toBe(before.measures[0])
  expect(after.words).toEqual(before.words)
  await page.goto('/songs')
  await page.getByRole('link', { name: 'Strange but Plain' }).click()
  await putAway(page)
})

test('a phrase is recorded from the keyboard, reviewed, and found as a part', async ({ page }) => {
  await standInForMidi(page)
  await workOn(page, 'Phrases')
  await page.getByRole('tab', { name: 'Play in' }).click()
  await page.getByLabel('Beats a minute').fill('120')
  const id = await page.evaluate(() => window.standIn.plug('Test Piano'))
  await page.getByRole('button', { name: 'Record' }).click()
  const start = (await (
    await page.waitForFunction(() => performance.getEntriesByName('half-step:recording')[0]?.startTime)
  ).jsonValue()) as number
  const played = [60, 64, 67, 72].map((pitch, index) => ({
    pitch,
    onsetMs: index * 500 + (index % 2 ? 14 : -9),
    durationMs: 560,
  }))
  await page.evaluate(([input, messages]) => window.standIn.send(input, messages), [
    id,
    strokes(played, start),
  ] as const)
  await expect(page.getByText('Recording: 4 notes')).toBeVisible({ timeout: 20_000 })
  await page.waitForTimeout(700)
  await page.getByRole('button', { name: 'Done' }).click()
  await expect(page.getByRole('img', { name: 'The phrase as notated' }).locator('svg .note')).toHaveCount(4, {
    timeout: 30_000,
  })
  await page.getByLabel('Name', { exact: true }).fill('Learned by ear')
  await page.getByRole('button', { name: 'Add as a part' }).click()
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('Saved, revision 2')).toBeVisible()
  await page.getByRole('link', { name: 'Phrases' }).click()
  await page.getByRole('button', { name: /Learned by ear$/ }).click()
  const part = page.getByRole('article', { name: 'The chosen part' })
  await expect(part).toContainText('bar 9')
  await expect(part).toContainText('rests here')
  await putAway(page)
})

test('a part is heard before it is played: its notes light up in their order, at the tempo asked for', async ({
  page,
}) => {
  await workOn(page, 'Heard')
  await slide(page.getByLabel('Tempo in percent'), 'End')
  await pick(page.getByLabel('Played by'), 'right hand')
  await page.locator('body').click({ position: { x: 5, y: 300 } })
  await page.keyboard.press('Space')
  await expect(page.getByRole('button', { name: /Stop/ })).toBeVisible()
  const order: string[] = []
  await expect(async () => {
    const id = await page.locator('.note.sounding').first().getAttribute('id', { timeout: 200 })
    if (id && order.at(-1) !== id) order.push(id)
    expect(order.length).toBeGreaterThanOrEqual(4)
  }).toPass({ timeout: 30_000, intervals: [40] })
  const all = await page.locator('.engraving .note').evaluateAll(notes => notes.map(one => one.id))
  expect(
    order.map(id => all.indexOf(id)).every((place, index, places) => index === 0 || place > places[index - 1]!),
  ).toBe(true)
  await page.keyboard.press('Space')
  await expect(page.locator('.note.sounding')).toHaveCount(0)
  await page.getByRole('link', { name: 'Heard' }).click()
  await putAway(page)
})

test('a long song: sections with their parts, what returns said, chords to count; old parts stay until the new ones are taken', async ({
  page,
}) => {
  await choose(page, 'sections.musicxml', writeMusicXml(songOfSections('ABACA')).musicXml)
  await understood(page).getByLabel('Title').fill('Five Sections')
  await understood(page).getByLabel('Title').blur()
  await save(page, 'Five Sections')
  const id = page.url().split('/').at(-1)!
  const work = (await (await page.request.get(`/api/songs/${id}/work`)).json()) as {
    arrangementId: string
    parts: { from: object; to: object }[]
  }
  expect(
    (
      await page.request.put(`/api/arrangements/${work.arrangementId}/parts`, {
        data: { parts: [{ name: 'All of it', from: work.parts[0]!.from, to: work.parts.at(-1)!.to }] },
      })
    ).ok(),
  ).toBe(true)
  expect((await page.request.patch(`/api/songs/${id}`, { data: { proposal: 1 } })).ok()).toBe(true)

  await page.goto(`/workbench/${id}`)
  await answering(page)
  const list = page.getByRole('region', { name: 'Parts', exact: true })
  await expect(list.getByLabel('Name of the part')).toHaveValue('All of it')
  const offer = page.getByRole('complementary', { name: 'A new split' })
  await expect(offer).toContainText('parts in 5 sections; yours stay as they are')
  await offer.getByRole('button', { name: 'Try the new parts' }).click()
  await expect(offer).toHaveCount(0)
  const sections = list.locator('.section')
  await expect(sections).toHaveCount(5)
  await expect(sections.first()).toHaveAttribute('aria-expanded', 'true')
  await expect(sections.nth(2)).toHaveAttribute('aria-expanded', 'false')
  await sections.nth(2).press('Enter')
  await list.getByRole('button', { name: 'A2, a' }).click()
  await expect(list.getByLabel('Name of the part')).toHaveValue('A2, a')
  await page.getByRole('tab', { name: 'Likeness' }).click()
  await expect(page.getByRole('tabpanel')).toContainText('A1 – B – A2 – C – A3')
  await expect(page.getByRole('tabpanel').getByText('as in A1, a')).toHaveCount(2)
  await page.getByRole('tab', { name: 'Chords' }).click()
  await page.getByText('Chord chart of the whole song').click()
  await expect(page.getByRole('tabpanel')).toContainText(/ (bars?|beats?)[,;]/)
  expect(
    (await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']).analyze())
      .violations,
  ).toEqual([])

  await list.getByLabel('Section').fill('Refrain')
  await list.getByLabel('Section').blur()
  await expect(sections.nth(2)).toContainText('Refrain')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(/^Saved, revision/)).toBeVisible()
  await page.reload()
  await answering(page)
  await expect(sections.nth(2)).toContainText('Refrain')
  await expect(offer).toHaveCount(0)
  await page.goto(`/songs/${id}`)
  await expect(page.getByText('A1 – B – Refrain – C – A3')).toBeVisible()
  await putAway(page)
})

test('unsaved work outlasts a reload, and can still be undone', async ({ page }) => {
  await workOn(page, 'Reloaded')
  page.on('dialog', dialog => void dialog.accept())
  await page.getByRole('button', { name: 'Cut' }).click()
  await expect(page.getByText('Unsaved changes')).toBeVisible()
  const parts = await page.locator('.bench li.part').count()
  await page.reload()
  await answering(page)
  await expect(page.getByText('Unsaved changes')).toBeVisible()
  await expect(page.locator('.bench li.part')).toHaveCount(parts)
  // Whoever leaves is asked, and stays where they say so.
  await page.getByRole('link', { name: 'Logbook' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Stay' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await expect(page).toHaveURL(/workbench/)
  await page.getByRole('link', { name: 'Logbook' }).click()
  await page.getByRole('button', { name: 'Leave without saving' }).click()
  await expect(page.getByRole('heading', { name: 'Logbook' })).toBeVisible()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await page.goBack()
  await expect(page.getByText('Unsaved changes')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByText('Saved, revision 1')).toBeVisible()
  await expect(page.locator('.bench li.part')).toHaveCount(parts - 1)
})

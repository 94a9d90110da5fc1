import { readMusicXml } from '#core/formats/musicxml/read'
import { arrangementEnd } from '#core/music/arrangement'
import { expectedNotes, playedPassage } from '#core/music/passage'
import { ZERO } from '#core/music/quarters'
import { attributes, bytesOf, pianoScore, quarterNotes } from '../material/score'
import { answering } from '../material/page'
import { roundStart, standInForMidi, strokes, type Sent } from '../material/midi-stand-in'
import { expect, test } from '../material/player'

/** Ten bars, the third to the sixth of them twice. */
const SCORE = pianoScore(
  [
    'C4 D4 E4 F4',
    'G4 F4 E4 D4',
    'E4 F4 G4 A4',
    'B4 A4 G4 F4',
    'A4 G4 F4 E4',
    'D4 E4 F4 G4',
    'C5 B4 A4 G4',
    'F4 G4 A4 B4',
    'C5 A4 F4 D4',
    'E4 D4 B3 C4',
  ].map(
    (bar, index) =>
      (index === 0 ? attributes() : '') +
      (index === 2 ? '<barline location="left"><repeat direction="forward"/></barline>' : '') +
      quarterNotes(bar) +
      (index === 5 ? '<barline location="right"><repeat direction="backward"/></barline>' : ''),
  ),
)
const BPM = 240

test('the whole song goes round its repeats while the page turns, and is heard as it was played', async ({ page }) => {
  await page.context().clearCookies()
  await page.request.post('/api/accounts', {
    data: { name: `Rounder ${Date.now()}`, password: 'a long enough password' },
  })
  const { id: songId } = (await (
    await page.request.post('/api/songs?name=round.musicxml', {
      data: Buffer.from(SCORE),
      headers: { 'content-type': 'application/octet-stream' },
    })
  ).json()) as { id: string }
  const { parts } = (await (await page.request.get(`/api/songs/${songId}`)).json()) as { parts: { id: string }[] }
  const { arrangement } = readMusicXml(bytesOf(SCORE))
  const whole = { from: ZERO, to: arrangementEnd(arrangement) }

  await standInForMidi(page)
  // So low that two rows fit.
  await page.setViewportSize({ width: 1280, height: 640 })
  await page.goto(`/stand/${parts[0]!.id}?hands=right&bpm=${BPM}&from=0/1&to=${whole.to.n}/${whole.to.d}`)
  await answering(page)
  await expect(page.getByRole('heading', { level: 1 })).toContainText('with its repeats')
  const labels = () =>
    page
      .locator('.row > p')
      .allTextContents()
      .then(texts => texts.map(text => text.trim()))
  // The second row begins where the music goes back to.
  await expect.poll(labels).toEqual(['bars 1 to 2', 'bars 3 to 6'])
  await page.getByRole('button', { name: 'Later' }).click()
  await expect.poll(labels).toEqual(['bars 3 to 6, again', 'bars 7 to 10'])
  await page.getByRole('button', { name: 'Earlier' }).click()
  await expect(page.locator('.row svg .note').first()).toBeVisible({ timeout: 30_000 })

  const input = await page.evaluate(() => window.standIn.plug('Test Piano'))
  await page.keyboard.press(' ')
  const startMs = await roundStart(page, 0)
  const expected = expectedNotes(arrangement, playedPassage(arrangement, whole, 'right'), BPM)
  expect(expected).toHaveLength(56)
  // One wrong key, the second time round.
  const played = expected.map((note, index) => (index === 26 ? { ...note, pitch: note.pitch + 1 } : note))
  const messages = strokes(played, startMs)
  await page.evaluate(([id, sent]) => window.standIn.send(id, sent), [input, messages] as [string, Sent[]])
  // While a row is played the other one turns to what comes next.
  const playing = page.locator('.row.playing > p')
  await expect(playing).toHaveText('bars 3 to 6')
  await expect.poll(labels).toEqual(['bars 3 to 6, again', 'bars 3 to 6'])
  await expect(playing).toHaveText('bars 3 to 6, again')
  await expect.poll(labels).toEqual(['bars 3 to 6, again', 'bars 7 to 10'])
  await expect(page.locator(`.row.playing [data-note="${expected[26]!.id}"]`)).toHaveClass('wrong')
  await expect(playing).toHaveText('bars 7 to 10')
  await expect(page.locator('.figures')).toContainText('Pass 1', { timeout: 60_000 })
  await page.keyboard.press('Escape')
  // In peace: the wrong key stands where it was played, not where the bar stood first.
  await expect.poll(labels).toEqual(['bars 1 to 2', 'bars 3 to 6'])
  await expect(page.locator('.lane .wrong')).toHaveCount(0)
  await page.getByRole('button', { name: 'Later' }).click()
  await expect(page.locator('.lane .wrong')).toHaveCount(1)

  await expect
    .poll(
      async () =>
        (
          (await (await page.request.get('/api/passes?limit=5')).json()) as {
            notes: number
            right: number
            wrong: number
          }[]
        )[0],
    )
    .toMatchObject({ notes: 56, right: 55, wrong: 1 })
  const [kept] = (await (await page.request.get('/api/passes?limit=1')).json()) as { id: string }[]
  expect(await (await page.request.get(`/api/passes/${kept!.id}/review`)).json()).toMatchObject({ isWhole: true })
  await page.goto(`/passes/${kept!.id}`)
  await expect(page.locator('.finding').first()).toContainText('Bar 3, beat 3, the second time, right hand')
})

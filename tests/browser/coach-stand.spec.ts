import { expectedNotes, spanPassage, type ScoreSpan } from '#core/music/passage'
import { demoScore } from '../material/demo'
import { answering } from '../material/page'
import { roundStart, standInForMidi, strokes, type Sent } from '../material/midi-stand-in'
import { expect, test } from '../material/player'

const { arrangement } = demoScore('snow-on-the-towpath.musicxml')

test('on the Stand: own time waits for the keys, the gate opens, and the coach leads on to the click', async ({
  page,
}) => {
  const songs = (await (await page.request.get('/api/songs')).json()) as { id: string; title: string }[]
  const songId = songs.find(song => song.title === 'Snow on the Towpath')!.id
  await standInForMidi(page)
  await page.request.patch('/api/settings', {
    data: {
      coach: { school: 'turns', ownTimeGate: 2, firstHand: 'right', gate: 3 },
      controls: { start: { key: 21 }, faster: { key: 108 } },
    },
  })
  await page.goto(`/songs/${songId}`)
  await answering(page)
  await page.getByRole('link', { name: 'Continue' }).click()
  await page.waitForURL(/\/stand\//)
  await expect(page.locator('.engraving svg .note').first()).toBeVisible({ timeout: 30_000 })
  await expect(page.locator('.gate', { hasText: '0 of 2 without a wrong key' })).toBeVisible()
  const id = await page.evaluate(() => window.standIn.plug('Test Piano'))
  await expect(page.getByRole('button', { name: 'Test Piano' })).toBeVisible()
  const {
    stairs: { next },
  } = (await (await page.request.get(`/api/songs/${songId}`)).json()) as {
    stairs: { next?: { bpm: number; stretch: ScoreSpan } }
  }
  const expected = expectedNotes(arrangement, spanPassage(next!.stretch.from, next!.stretch.to, 'right'), next!.bpm)
  const now = (bytes: number[]) =>
    page.evaluate(([input, message]) => window.standIn.sendNow(input, message), [id, bytes] as [string, number[]])
  // The lowest key of the piano has been given to "start", and is no music.
  await now([0x90, 21, 60])
  await now([0x80, 21, 0])
  for (let pass = 0; pass < 3; pass++) {
    await expect(page.locator('.note.due').first()).toBeVisible()
    for (const [index, note] of expected.entries()) {
      // Once a wrong key first: it is marked, and the music waits.
      if (pass === 0 && index === 2) {
        await now([0x90, note.pitch + 1, 60])
        await expect(page.locator(`.lane [data-note="${note.id}"]`)).toHaveClass('wrong')
        await now([0x80, note.pitch + 1, 0])
      }
      await now([0x90, note.pitch, 60])
      await now([0x80, note.pitch, 0])
    }
    await expect(page.locator('.figures')).toContainText(`Pass ${pass + 1}`)
    if (pass === 0) await expect(page.locator('.sentence')).toContainText('came before the right key')
    if (pass === 1) await expect(page.locator('.gate', { hasText: '1 of 2 without a wrong key' })).toBeVisible()
  }
  // The gate of own time is open: the click counts in by itself.
  await expect(page.locator('.gate', { hasText: 'of 3 clean in a row' })).toBeVisible()
  const bpm = Number(await page.getByLabel('Tempo, beats a minute').inputValue())
  const steady = expectedNotes(arrangement, spanPassage(next!.stretch.from, next!.stretch.to, 'right'), bpm)
  const startMs = await roundStart(page, 0)
  await page.evaluate(([input, messages]) => window.standIn.send(input, messages), [id, strokes(steady, startMs)] as [
    string,
    Sent[],
  ])
  await expect(page.locator('.figures')).toContainText('Pass 4', { timeout: 60_000 })
  await expect(page.locator('.sentence')).toContainText('Clean')
  // Clean first time: the next tempo may do as well, and the coach has gone there.
  await expect
    .poll(async () => Number(await page.getByLabel('Tempo, beats a minute').inputValue()))
    .toBeGreaterThan(bpm)
  await now([0x90, 108, 60])
  await expect
    .poll(async () => Number(await page.getByLabel('Tempo, beats a minute').inputValue()))
    .toBeGreaterThan(bpm + 4)
  await page.keyboard.press('Escape')
  await expect(page.getByRole('button', { name: /Start/ })).toBeVisible()
  // The four passes are on the server, in their modes.
  await expect
    .poll(async () =>
      ((await (await page.request.get('/api/passes?limit=10')).json()) as { mode: string }[]).map(pass => pass.mode),
    )
    .toEqual(['steady', 'own-time', 'own-time', 'own-time'])
})

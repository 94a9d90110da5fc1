/** Our MIDI of an arrangement against verovio's own MIDI of the same score, both read by @tonejs/midi. */
import { Midi } from '@tonejs/midi'
import { VerovioToolkit } from 'verovio/esm'
import createVerovioModule from 'verovio/wasm'
import { describe, expect, it } from 'vitest'
import { readMusicXml } from '#core/formats/musicxml/read'
import { writeArrangementMidi } from '#core/formats/midi/write-arrangement'
import { expectedNotes, wholePassage } from '#core/music/passage'
import { DEMO_FILES, demoScore } from '../material/demo'
import { attributes, backup, bytesOf, note, pianoScore, quarterNotes } from '../material/score'

const strokes = (midi: Midi) =>
  midi.tracks
    .flatMap(track => track.notes)
    .map(one => ({ pitch: one.midi, at: one.time, long: one.duration }))
    .sort((a, b) => a.at - b.at || a.pitch - b.pitch)

async function expectSameSound(musicXml: string) {
  const verovio = new VerovioToolkit(await createVerovioModule())
  verovio.loadData(musicXml)
  const theirs = strokes(new Midi(Buffer.from(verovio.renderToMIDI(), 'base64')))
  const mine = strokes(new Midi(writeArrangementMidi(readMusicXml(bytesOf(musicXml)).arrangement)))
  expect(mine.map(one => one.pitch)).toEqual(theirs.map(one => one.pitch))
  mine.forEach((one, index) => {
    expect(one.at).toBeCloseTo(theirs[index]!.at, 1.5)
    expect(one.long).toBeCloseTo(theirs[index]!.long, 1)
  })
  return mine
}

describe('the MIDI of a score', () => {
  it.each(DEMO_FILES.filter(file => !file.startsWith('snow')))('%s sounds as verovio plays it', async file => {
    const mine = await expectSameSound(demoScore(file).musicXml)
    const { arrangement } = demoScore(file)
    expect(mine.length).toBe(expectedNotes(arrangement, wholePassage(arrangement, 'both'), 100).length)
  })

  it('with repeats, ties, a tempo change and two hands too', async () => {
    await expectSameSound(
      pianoScore([
        attributes({ staves: 2 }) +
          '<direction><direction-type><words>Slow</words></direction-type><sound tempo="80"/></direction>' +
          '<barline location="left"><repeat direction="forward"/></barline>' +
          quarterNotes('C5 D5 E5', 1) +
          note({ pitch: 'F5', length: 1, staff: 1, ties: ['start'] }) +
          backup(4) +
          note({ pitch: 'C3', length: 4, staff: 2 }),
        note({ pitch: 'F5', length: 1, staff: 1, ties: ['stop'] }) +
          quarterNotes('G5 A5 B5', 1) +
          backup(4) +
          note({ pitch: 'G2', length: 4, staff: 2 }) +
          '<barline location="right"><repeat direction="backward"/></barline>',
        '<direction><direction-type><words>Fast</words></direction-type><sound tempo="160"/></direction>' +
          quarterNotes('C6 B5 A5 G5', 1) +
          backup(4) +
          note({ pitch: 'C3', length: 4, staff: 2 }),
      ]),
    )
  })
})

import { describe, expect, it } from 'vitest'
import { attributes, backup, bytesOf, note, pianoScore, quarterNotes } from '../../tests/material/score'
import { DEMO_FILES, demoScore } from '../../tests/material/demo'
import { readMusicXml } from '../formats/musicxml/read'
import { writeMusicXml } from '../formats/musicxml/write'
import { toDecimal } from './quarters'
import { sliceBars } from './slice'

const { arrangement: song } = readMusicXml(bytesOf(pianoScore([
  '<direction><direction-type><words>Andante</words></direction-type><sound tempo="72"/></direction>' + attributes({ staves: 2, fifths: -1 }) + quarterNotes('C5 D5 E5', 1) + note({ pitch: 'F5', length: 1, staff: 1, ties: ['start'] }) + backup(4) + note({ pitch: 'C3', length: 4, staff: 2, ties: ['start'] }),
  note({ pitch: 'F5', length: 1, staff: 1, ties: ['stop'] }) + quarterNotes('G5 A5 Bb5', 1) + backup(4) + note({ pitch: 'C3', length: 4, staff: 2, ties: ['stop', 'start'] }),
  quarterNotes('C6 Bb5 A5 G5', 1) + backup(4) + note({ pitch: 'C3', length: 4, staff: 2, ties: ['stop'] }),
])))
const shown = (arrangement: typeof song) => arrangement.notes.map(one => `${one.spelled}@${toDecimal(one.onset)}+${toDecimal(one.duration)}`)

describe('some bars of a song', () => {
  it('begin at 0, with what sounds in from before cut at their beginning and what sounds on cut at their end', () => {
    expect(shown(sliceBars(song, 1, 1))).toEqual(['C3@0+4', 'F5@0+1', 'G5@1+1', 'A5@2+1', 'Bb5@3+1'])
  })
  it('keep ids, bar numbers, key, meter and the tempo in force', () => {
    const bars = sliceBars(song, 1, 2)
    expect(bars.bars.map(bar => [bar.index, bar.number, bar.fifths, toDecimal(bar.start)])).toEqual([[0, 2, -1, 0], [1, 3, -1, 4]])
    expect(bars.tempos).toEqual([{ onset: { n: 0, d: 1 }, quarterBpm: 72 }])
    expect(bars.notes.every(one => song.notes.some(other => other.id === one.id))).toBe(true)
  })
  it.each(DEMO_FILES)('of %s are written and read back with their notes, wherever they are cut', (file) => {
    const { arrangement } = demoScore(file)
    for (let first = 0; first + 2 < arrangement.bars.length; first += 3) {
      const bars = sliceBars(arrangement, first, first + 2)
      const again = readMusicXml(bytesOf(writeMusicXml(bars).musicXml)).arrangement
      expect(shown(again).sort()).toEqual(shown(bars).sort())
    }
  })
  it('all of them are the song', () => {
    expect(shown(sliceBars(song, 0, 2))).toEqual(shown(song))
  })
})

import { describe, expect, it } from 'vitest'
import { attributes, backup, bytesOf, note, pianoScore } from '../../tests/material/score'
import { readMusicXml } from './musicxml/read'
import { printedScore } from './printed'

const SCORE = readMusicXml(
  bytesOf(
    pianoScore([
      `${attributes({ staves: 2 })}<harmony><root><root-step>C</root-step></root><kind>major</kind></harmony>${note({ pitch: 'C5', length: 1, extra: '<notations><technical><fingering>1</fingering></technical></notations>' })}${note({ pitch: 'D5', length: 0.5 })}${note({ pitch: 'E5', length: 0.5 })}${note({ pitch: 'F5', length: 2 })}${backup(4)}${note({ pitch: 'C3', length: 4, staff: 2, voice: 5 })}`,
    ]),
  ),
)
const read = (text: string) => readMusicXml(bytesOf(text)).arrangement

describe('a page on paper', () => {
  it('has fingers where the score has none, and leaves the written ones', () => {
    const ids = SCORE.arrangement.notes.map(one => one.id)
    const printed = read(printedScore(SCORE, { fingers: new Map(ids.map(id => [id, 3])) }))
    expect(printed.notes.filter(one => one.hand === 'right').map(one => one.finger)).toEqual([1, 3, 3, 3])
    expect(read(printedScore(SCORE, {})).notes.filter(one => one.finger !== undefined)).toHaveLength(1)
  })
  // Common practice: in 4/4 eighth notes are counted "1 2 & 3".
  it('has the count under what the right hand strikes, and chord symbols unless they are not wanted', () => {
    const counted = read(printedScore(SCORE, { counts: true }))
    expect(counted.lyrics.map(one => one.text)).toEqual(['1', '2', '&', '3'])
    expect(counted.chords).toHaveLength(1)
    expect(read(printedScore(SCORE, { chordSymbols: false })).chords).toEqual([])
  })
})

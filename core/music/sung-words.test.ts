import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { spanPassage } from './passage'
import { quarters } from './quarters'
import { sungLines } from './sung-words'

const FERRY = demoScore('lantern-ferry.musicxml').arrangement
const text = ({ syllables }: ReturnType<typeof sungLines>[number]) =>
  syllables
    .map(({ text, hyphen }) => `${text}${hyphen ? '-' : ' '}`)
    .join('')
    .trim()

describe('the words to sing', () => {
  it('stand in lines of two bars, a pickup with the line it leads to', () => {
    const lines = sungLines(FERRY, spanPassage(quarters(0), quarters(16), 'right'), 60)
    expect(lines.map(text)).toEqual(['The fer-ry leaves at lan-tern light, the', 'riv-er turns to gold,'])
    expect(lines.map(({ fromMs, toMs }) => [fromMs, toMs])).toEqual([
      [0, 9000],
      [9000, 16_000],
    ])
  })

  it('each syllable has its time at the tempo of the loop', () => {
    const [line] = sungLines(FERRY, spanPassage(quarters(0), quarters(16), 'right'), 120)
    expect(line!.syllables.slice(0, 3).map(({ text, atMs }) => [text, atMs])).toEqual([
      ['The', 0],
      ['fer', 500],
      ['ry', 1250],
    ])
  })

  it('there are none where nothing is sung', () => {
    const shuffle = demoScore('snow-on-the-towpath.musicxml').arrangement
    expect(sungLines({ ...shuffle, lyrics: [] }, spanPassage(quarters(0), quarters(16), 'right'))).toEqual([])
  })
})

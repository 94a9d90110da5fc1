import createVerovioModule from 'verovio/wasm'
import { VerovioToolkit } from 'verovio/esm'
import { describe, expect, it } from 'vitest'
import { attributes, backup, note, partsScore, pianoScore, quarterNotes } from '../../../tests/material/score'
import { parseXml, children, child, textOf } from './xml'
import { excerpt, scoreText } from './excerpt'

const BAR = quarterNotes('C4 D4 E4 F4')
const bass = (pitches: string) => backup(4) + quarterNotes(pitches, 2)
const CHANGES = pianoScore([
  `${attributes({ fifths: 2, staves: 2 })}<direction><direction-type><metronome><beat-unit>quarter</beat-unit><per-minute>90</per-minute></metronome></direction-type></direction>${quarterNotes('D5 E5 F#5 G5', 1)}${bass('D3 D3 D3 D3')}`,
  // The bass takes the treble clef in the middle of the bar.
  `${quarterNotes('D5 E5 F#5 G5', 1)}${backup(4)}${quarterNotes('D3 D3', 2)}<attributes><clef number="2"><sign>G</sign><line>2</line></clef></attributes>${quarterNotes('D4 D4', 2)}`,
  `<print new-system="yes"/>${quarterNotes('D5 E5 F#5 G5', 1)}${bass('D4 D4 D4 D4')}`,
  `<attributes><key><fifths>-1</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time></attributes>${quarterNotes('D5 E5 F5 G5', 1)}${bass('D4 D4 D4 D4')}`,
])
/** The <attributes> that an excerpt begins with: its elements by name, clefs with their staff. */
function begins(first: number, last = first, text = CHANGES) {
  const measure = children(child(parseXml(excerpt(scoreText(text), first, last)), 'part'), 'measure')[0]
  const found = child(measure, 'attributes')
  return {
    fifths: textOf(child(found, 'key'), 'fifths'),
    clefs: children(found, 'clef')
      .map(clef => textOf(clef, 'sign'))
      .join(''),
    hasMeter: child(found, 'time') !== undefined,
  }
}

describe('some bars of a score', () => {
  it('begin with the key and the clefs that hold there, wherever they were set; a meter only where one is printed', () => {
    expect([0, 1, 2, 3].map(bar => begins(bar))).toEqual([
      { fifths: '2', clefs: 'GF', hasMeter: true },
      { fifths: '2', clefs: 'GF', hasMeter: false },
      { fifths: '2', clefs: 'GG', hasMeter: false },
      { fifths: '-1', clefs: 'GG', hasMeter: true },
    ])
  })
  it('are just those bars, well-formed, on one line of their own', () => {
    const root = parseXml(excerpt(scoreText(CHANGES), 1, 2))
    const measures = children(child(root, 'part'), 'measure')
    expect(measures.map(measure => measure.attributes.number)).toEqual(['2', '3'])
    expect(measures.map(measure => children(measure, 'print').length)).toEqual([1, 0])
    expect(measures.flatMap(measure => children(measure, 'note')).length).toBe(16)
  })
  it('are without names, tempo and rehearsal marks where the page says those', () => {
    const [bare, full] = [true, false].map(isBare => excerpt(scoreText(CHANGES), 0, 0, { isBare }))
    expect([
      bare!.includes('metronome'),
      bare!.includes('>Piano<'),
      full!.includes('metronome'),
      full!.includes('>Piano<'),
    ]).toEqual([false, false, true, true])
  })
  it('have fingers written in where there are none, before the words', () => {
    const one = pianoScore([
      attributes() +
        note({ pitch: 'C4', length: 2, id: 'a', extra: '<lyric><text>Hill</text></lyric>' }) +
        note({
          pitch: 'E4',
          length: 2,
          id: 'b',
          extra: '<notations><technical><fingering>3</fingering></technical></notations>',
        }),
    ])
    const notes = children(
      children(
        child(
          parseXml(
            excerpt(scoreText(one), 0, 0, {
              fingers: { a: { finger: 1, isBelow: true }, b: { finger: 5, isBelow: false } },
            }),
          ),
          'part',
        ),
        'measure',
      )[0],
      'note',
    )
    expect(notes.map(found => textOf(child(child(found, 'notations'), 'technical'), 'fingering'))).toEqual(['1', '3'])
    expect(child(child(child(notes[0], 'notations'), 'technical'), 'fingering')?.attributes.placement).toBe('below')
    expect(notes[0]!.children.map(found => found.name).slice(-2)).toEqual(['notations', 'lyric'])
  })
  it("have the lower staff's fingers under its notes where the score says no place for them", () => {
    const finger = (placement = '') =>
      `<notations><technical><fingering${placement}>1</fingering></technical></notations>`
    const bar =
      note({ pitch: 'C4', length: 4, extra: finger() }) +
      backup(4) +
      note({ pitch: 'C3', length: 2, staff: 2, extra: finger() }) +
      note({ pitch: 'D3', length: 2, staff: 2, extra: finger(' placement="above"') })
    const notes = children(
      children(
        child(parseXml(excerpt(scoreText(pianoScore([attributes({ staves: 2 }) + bar])), 0, 0)), 'part'),
        'measure',
      )[0],
      'note',
    )
    expect(
      notes.map(found => child(child(child(found, 'notations'), 'technical'), 'fingering')?.attributes.placement),
    ).toEqual([undefined, 'below', 'above'])
  })
  it("take the page's ink, whatever colour the file gives", () => {
    expect(
      excerpt(scoreText(CHANGES.replace('<clef number="1"', '<clef color="#000000" number="1"')), 0, 1),
    ).not.toContain('color')
  })
})

const sung = (text: string) => note({ pitch: 'E5', length: 4, extra: `<lyric><text>${text}</text></lyric>` })
const SONG = partsScore([
  [
    'Voice',
    `<measure number="1">${attributes({ fifths: 3 })}<direction><direction-type><words>Slowly</words></direction-type></direction>${sung('Hill')}</measure><measure number="2">${sung('road')}</measure>`,
  ],
  [
    'Piano',
    `<measure number="1">${attributes({ fifths: 3 })}<direction><direction-type><words>Slowly</words></direction-type></direction>${BAR}</measure><measure number="2">${BAR}</measure>`,
  ],
])

describe('a staff that nobody here plays', () => {
  const drawn = (how: 'small' | 'words' | 'none', bar = 0) =>
    excerpt(scoreText(SONG), bar, bar, { drawn: { P1: how }, isBare: true })
  it('is small, or its words alone, or not there; what it says of tempo stands with the hands once', () => {
    for (const how of ['small', 'words'] as const) {
      expect(drawn(how)).toContain('Hill')
      expect(drawn(how).match(/Slowly/g)).toHaveLength(1)
      expect(drawn(how, 1)).toContain('road')
    }
    expect(children(parseXml(drawn('none')), 'part')).toHaveLength(1)
    expect(drawn('none')).not.toContain('id="P1"')
  })
  it('takes less room each time, as the engraver measures it', async () => {
    const engraver = new VerovioToolkit(await createVerovioModule())
    const heights = (['full', 'small', 'words', 'none'] as const).map(how => {
      engraver.setOptions({
        pageWidth: 2000,
        pageHeight: 60_000,
        adjustPageHeight: true,
        scale: 100,
        breaks: 'encoded',
        svgViewBox: true,
        header: 'none',
        footer: 'none',
      })
      expect(engraver.loadData(excerpt(scoreText(SONG), 0, 1, { drawn: { P1: how }, isBare: true }))).toBeTruthy()
      const svg = engraver.renderToSVG(1)
      expect(svg.match(/class="system"/g)).toHaveLength(1)
      return Number(/viewBox="0 0 \d+ (\d+)"/.exec(svg)![1])
    })
    expect([...heights].sort((a, b) => b - a)).toEqual(heights)
    expect(new Set(heights).size).toBe(4)
  })
})

/**
 * The MusicXML reader against verovio (LGPL, from the npm registry), an independent reader of the format: the same
 * files, read by both, must give the same noteheads at the same moments.
 */
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { readMusicXml } from '#core/formats/musicxml/read'
import type { Arrangement } from '#core/music/arrangement'
import { expectedNotes, wholePassage } from '#core/music/passage'
import { toDecimal } from '#core/music/quarters'
import { DEMO_FILES, demoBytes } from '../material/demo'
import { engraverReading, type EngraverNote } from '../material/engraver'
import { attributes, backup, bytesOf, note, pianoScore, quarterNotes } from '../material/score'

const ours = (arrangement: Arrangement) =>
  arrangement.notes
    .filter(one => !one.grace)
    .map(one => ({ id: one.id, onset: toDecimal(one.onset), duration: toDecimal(one.duration), pitch: one.pitch }))

/** verovio counts tied noteheads one by one; they are joined here by the ids our reader says are tied. */
function joined(reading: EngraverNote[], arrangement: Arrangement) {
  const byId = new Map(reading.map(one => [one.id, one]))
  return arrangement.notes
    .filter(one => !one.grace)
    .map(one => {
      const head = byId.get(one.id)
      const tied = one.tiedIds.map(id => byId.get(id))
      return {
        id: one.id,
        onset: head?.onsetQuarter,
        pitch: head?.pitch,
        duration: [head, ...tied].reduce((sum, piece) => sum + (piece?.durationQuarter ?? Number.NaN), 0),
      }
    })
}

async function expectSameReading(musicXml: string) {
  const read = readMusicXml(bytesOf(musicXml))
  const reading = await engraverReading(read.musicXml, { unfold: false })
  const theirs = joined(reading, read.arrangement)
  const mine = ours(read.arrangement)
  expect(theirs.map(({ id, pitch }) => ({ id, pitch }))).toEqual(mine.map(({ id, pitch }) => ({ id, pitch })))
  mine.forEach((one, index) => {
    expect(theirs[index]!.onset, `onset of ${one.id}`).toBeCloseTo(one.onset, 3)
    expect(theirs[index]!.duration, `length of ${one.id}`).toBeCloseTo(one.duration, 3)
  })
  const known = new Set(read.arrangement.notes.flatMap(one => [one.id, ...one.tiedIds]))
  expect(
    reading.filter(one => !known.has(one.id)),
    'noteheads that only verovio has',
  ).toEqual([])
  return read.arrangement
}

describe('the demo songs', () => {
  it.each(DEMO_FILES)('%s is read as verovio reads it, with nothing left unused', async file => {
    const text = new TextDecoder().decode(demoBytes(file))
    const read = readMusicXml(bytesOf(text))
    expect(read.arrangement.warnings).toEqual([])
    const graceless = ours(read.arrangement)
    const theirs = joined(await engraverReading(read.musicXml, { unfold: false }), read.arrangement)
    expect(theirs.map(one => one.pitch)).toEqual(graceless.map(one => one.pitch))
    // verovio takes a grace note's time from its main note; ours keeps the main note on its beat. One demo bar has one.
    const moved = graceless.filter((one, index) => Math.abs(one.onset - theirs[index]!.onset!) > 1e-3)
    expect(moved.length).toBe(file.startsWith('snow') ? 1 : 0)
  })
})

describe('single things', () => {
  const triplet = (pitch: string, mark = '') =>
    note({
      pitch,
      length: 1 / 3,
      type: 'eighth',
      extra: `<time-modification><actual-notes>3</actual-notes><normal-notes>2</normal-notes></time-modification>${mark}`,
    })

  it('a pickup, a dotted rhythm, a chord and a triplet', async () => {
    await expectSameReading(
      pianoScore([
        ['number="0" implicit="yes"', attributes() + quarterNotes('G4')],
        [
          'number="1"',
          note({ pitch: 'C5', length: 1.5 }) +
            note({ pitch: 'D5', length: 0.5 }) +
            note({ pitch: 'E5', length: 2 }) +
            note({ pitch: 'G5', length: 2, chord: true }),
        ],
        [
          'number="2"',
          triplet('C5', '<notations><tuplet type="start"/></notations>') +
            triplet('D5') +
            triplet('E5', '<notations><tuplet type="stop"/></notations>') +
            quarterNotes('F5 G5 A5'),
        ],
      ]),
    )
  })

  it('ties over bar lines, in chords, through three bars', async () => {
    const arrangement = await expectSameReading(
      pianoScore([
        attributes() +
          note({ pitch: 'C4', length: 2 }) +
          note({ pitch: 'E4', length: 2, ties: ['start'] }) +
          note({ pitch: 'G4', length: 2, ties: ['start'], chord: true }),
        note({ pitch: 'E4', length: 4, ties: ['stop', 'start'] }) +
          note({ pitch: 'G4', length: 4, ties: ['stop'], chord: true }),
        note({ pitch: 'E4', length: 1, ties: ['stop'] }) + quarterNotes('F4 G4 A4'),
      ]),
    )
    expect(arrangement.notes.find(one => one.spelled === 'E4')).toMatchObject({
      duration: { n: 7, d: 1 },
      tiedIds: ['n4', 'n6'],
    })
  })

  it('two staves and two voices on one staff, through backup and forward', async () => {
    await expectSameReading(
      pianoScore([
        attributes({ staves: 2 }) +
          quarterNotes('C5 D5 E5 F5', 1) +
          backup(4) +
          note({ pitch: 'G4', length: 4, staff: 1, voice: 2 }) +
          backup(4) +
          note({ pitch: 'C3', length: 2, staff: 2, voice: 5 }) +
          note({ pitch: 'G3', length: 2, staff: 2, voice: 5 }),
      ]),
    )
  })

  it('changes of meter and key, 6/8 among them', async () => {
    const arrangement = await expectSameReading(
      pianoScore([
        attributes({ fifths: -3 }) + quarterNotes('C4 Eb4 G4 Bb4'),
        '<attributes><key><fifths>2</fifths></key><time><beats>6</beats><beat-type>8</beat-type></time></attributes>' +
          note({ pitch: 'F#4', length: 1.5 }) +
          note({ pitch: 'C#5', length: 1.5 }),
      ]),
    )
    expect(arrangement.bars.map(bar => [bar.meter, bar.fifths])).toEqual([
      [{ beats: 4, beatType: 4 }, -3],
      [{ beats: 6, beatType: 8 }, 2],
    ])
  })

  it('quintuplets against quarters, 5/4 and 12/8', async () => {
    const five = (pitch: string, mark = '') =>
      note({
        pitch,
        length: 0.4,
        type: 'eighth',
        extra: `<time-modification><actual-notes>5</actual-notes><normal-notes>4</normal-notes></time-modification>${mark}`,
      })
    const arrangement = await expectSameReading(
      pianoScore([
        attributes({ beats: 5, staves: 2 }) +
          five('C5', '<notations><tuplet type="start"/></notations>') +
          five('D5') +
          five('E5') +
          five('F5') +
          five('G5', '<notations><tuplet type="stop"/></notations>') +
          quarterNotes('A5 B5 C6') +
          backup(5) +
          note({ pitch: 'C3', length: 3, type: 'half', staff: 2 }).replace('</type>', '</type><dot/>') +
          note({ pitch: 'G3', length: 2, staff: 2 }),
        '<attributes><time><beats>12</beats><beat-type>8</beat-type></time></attributes>' +
          [1, 2, 3, 4].map(() => note({ pitch: 'E5', length: 1.5 })).join('') +
          backup(6) +
          note({ pitch: 'C3', length: 6, type: 'whole', staff: 2 }).replace('</type>', '</type><dot/>'),
      ]),
    )
    expect(arrangement.notes.filter(one => one.onset.d === 5).map(one => one.onset.n)).toEqual(
      [4, 8, 12, 16].map(n => n / 2),
    )
    expect(arrangement.bars.map(bar => bar.length.n)).toEqual([5, 6])
  })

  it('octave signs and a change of key inside a bar: the written pitch is the sounding one', async () => {
    const arrangement = await expectSameReading(
      pianoScore([
        attributes() +
          '<direction><direction-type><octave-shift type="down" size="8"/></direction-type></direction>' +
          quarterNotes('C6 D6') +
          '<direction><direction-type><octave-shift type="stop" size="8"/></direction-type></direction>' +
          quarterNotes('E5 F5'),
      ]),
    )
    expect(arrangement.notes.map(one => one.pitch)).toEqual([84, 86, 76, 77])
  })

  it('two voices that hold the same key in turn, and a tie in one of them only', async () => {
    await expectSameReading(
      pianoScore([
        attributes() +
          note({ pitch: 'G4', length: 4, voice: 1, ties: ['start'] }) +
          backup(4) +
          note({ pitch: 'C4', length: 2, voice: 2 }) +
          note({ pitch: 'E4', length: 2, voice: 2 }),
        note({ pitch: 'G4', length: 2, voice: 1, ties: ['stop'] }) +
          note({ pitch: 'G4', length: 2, voice: 1 }) +
          backup(4) +
          note({ pitch: 'E4', length: 4, voice: 2 }),
      ]),
    )
  })

  it('random bars of rests, chords, dots and sixteenths', async () => {
    const length = fc.constantFrom(0.25, 0.5, 0.75, 1, 1.5, 2)
    const pitch = fc.constantFrom('C4', 'D4', 'Eb4', 'F#4', 'G4', 'Bb4', 'C5')
    const bar = fc.array(fc.record({ length, pitch: fc.option(pitch, { nil: undefined }), third: fc.boolean() }), {
      minLength: 1,
      maxLength: 12,
    })
    const fill = (wanted: { length: number; pitch?: string; third: boolean }[]) => {
      let left = 4
      let text = ''
      for (const one of wanted) {
        if (one.length > left) continue
        left -= one.length
        text += note(one) + (one.pitch && one.third ? note({ pitch: 'A5', length: one.length, chord: true }) : '')
      }
      for (const rest of [2, 1, 0.5, 0.25]) {
        while (left >= rest) {
          text += note({ length: rest })
          left -= rest
        }
      }
      return text
    }
    await fc.assert(
      fc.asyncProperty(fc.array(bar, { minLength: 1, maxLength: 6 }), async bars => {
        await expectSameReading(pianoScore([attributes() + quarterNotes('C4 r r r'), ...bars.map(fill)]))
      }),
      { numRuns: 60, seed: 7 },
    )
  })
})

describe('repeats and endings', () => {
  const forward = '<barline location="left"><repeat direction="forward"/></barline>'
  const backward = '<barline location="right"><repeat direction="backward"/></barline>'
  const ending = (number: string, content: string, last = '') =>
    `<barline location="left"><ending number="${number}" type="start"/></barline>${content}<barline location="right"><ending number="${number}" type="${last ? 'stop' : 'discontinue'}"/>${last}</barline>`

  it.each([
    [
      'a plain repeat',
      [
        attributes() + forward + quarterNotes('C4 D4 E4 F4'),
        quarterNotes('G4 A4 B4 C5') + backward,
        quarterNotes('C5 B4 A4 G4'),
      ],
      [1, 2, 1, 2, 3],
    ],
    [
      'a repeat from the beginning',
      [attributes() + quarterNotes('C4 D4 E4 F4'), quarterNotes('G4 A4 B4 C5') + backward, quarterNotes('C5 B4 A4 G4')],
      [1, 2, 1, 2, 3],
    ],
    [
      'first and second endings',
      [
        attributes() + forward + quarterNotes('C4 D4 E4 F4'),
        ending('1', quarterNotes('G4 G4 G4 G4'), '<repeat direction="backward"/>'),
        ending('2', quarterNotes('C5 C5 C5 C5')),
        quarterNotes('E4 E4 E4 E4'),
      ],
      [1, 2, 1, 3, 4],
    ],
    [
      'two repeats after each other',
      [
        attributes() + forward + quarterNotes('C4 D4 E4 F4') + backward,
        forward + quarterNotes('G4 A4 B4 C5') + backward,
      ],
      [1, 1, 2, 2],
    ],
  ] as const)('%s unfolds in the order verovio plays it', async (_name, measures, bars) => {
    const { arrangement, musicXml } = readMusicXml(bytesOf(pianoScore([...measures])))
    expect(arrangement.order.map(index => arrangement.bars[index]!.number)).toEqual(bars)
    const theirs = (await engraverReading(musicXml, { unfold: true })).map(one => [
      one.id.replace(/-rend\d+$/, ''),
      one.onsetQuarter,
    ])
    const mine = expectedNotes(arrangement, wholePassage(arrangement, 'both'), 60).map(one => [
      one.id,
      one.onsetMs / 1000,
    ])
    expect(mine).toEqual(theirs)
  })
})

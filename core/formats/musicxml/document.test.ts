/**
 * What an edit does not touch stays as it is in the document, to the letter; what it does touch reads back as it was
 * meant.
 */
import { describe, expect, it } from 'vitest'
import { attributes, backup, bytesOf, note, partsScore, pianoScore, quarterNotes } from '../../../tests/material/score'
import { DEMO_FILES, demoScore } from '../../../tests/material/demo'
import { applyChange, type Change } from '../../edit/change'
import type { Arrangement } from '../../music/arrangement'
import { add, quarters } from '../../music/quarters'
import { ScoreDocument } from './document'
import { readMusicXml } from './read'
import { writeMusicXml } from './write'

const read = (text: string) => readMusicXml(bytesOf(text))
/** A bar of things that nobody here understands, or draws otherwise than we would. */
const STRANGE =
  '<direction placement="above"><direction-type><words font-style="italic">Trio, ma non troppo</words></direction-type></direction>' +
  note({
    pitch: 'C5',
    length: 0.5,
    extra:
      '<beam number="1">begin</beam><notations><slur type="start" number="3"/><technical><up-bow/></technical></notations>',
  }) +
  note({
    pitch: 'D5',
    length: 0.5,
    extra:
      '<beam number="1">end</beam><notations><slur type="stop" number="3"/></notations><lyric number="2"><text>la</text></lyric>',
  }) +
  '<direction><direction-type><octave-shift type="down" size="8"/></direction-type></direction>' +
  note({ pitch: 'E5', length: 1 }) +
  '<attributes><clef number="2"><sign>C</sign><line>4</line></clef></attributes>' +
  note({ pitch: 'F#5', length: 2, extra: '<notations><other-notation type="single">+</other-notation></notations>' }) +
  backup(4) +
  note({ pitch: 'C3', length: 2, staff: 2, voice: 5 }) +
  note({ pitch: 'G3', length: 2, staff: 2, voice: 5 })
const SCORE = read(
  pianoScore([
    attributes({ staves: 2, fifths: 1 }) + STRANGE,
    quarterNotes('G4 A4 F#4 F#4', 1) + backup(4) + note({ pitch: 'G2', length: 4, staff: 2, voice: 5 }),
    STRANGE,
  ]),
)
const at = (bar: number, place: number, { arrangement } = SCORE) =>
  arrangement.notes.filter(one => one.hand === 'right' && one.barIndex === bar)[place]!
const revise = (change: Change, score = SCORE) => {
  const edited = applyChange(score.arrangement, change)
  return { edited, ...new ScoreDocument(score).revised(edited) }
}
const measures = (text: string) => [...text.matchAll(/<measure\b[^]*?<\/measure>/g)].map(([one]) => one)
/** Notes as they are meant, whichever way they are drawn. */
const meant = ({ notes }: Arrangement) =>
  notes.map(one => [
    one.id,
    one.hand,
    `${one.onset.n}/${one.onset.d}`,
    `${one.duration.n}/${one.duration.d}`,
    one.pitch,
    one.finger,
    one.grace?.before,
    one.articulations,
    one.ornaments,
  ])

describe('a document without a correction', () => {
  it.each(DEMO_FILES)('%s stays as it is', file => {
    const score = demoScore(file)
    expect(new ScoreDocument(score).revised({ ...score.arrangement }).musicXml).toBe(score.musicXml)
  })
})

describe('one correction', () => {
  it('of a finger changes that one note', () => {
    const { musicXml } = revise({ kind: 'finger', id: at(1, 0).id, finger: 2 })
    const [before, after] = [measures(SCORE.musicXml), measures(musicXml)]
    expect([after[0], after[2]]).toEqual([before[0], before[2]])
    expect(after[1]!.replace('<notations><technical><fingering>2</fingering></technical></notations>', '')).toBe(
      before[1],
    )
    const again = read(musicXml)
    expect(revise({ kind: 'finger', id: at(1, 0).id, finger: 4 }, again).musicXml).toBe(
      musicXml.replace('<fingering>2<', '<fingering>4<'),
    )
    expect(
      read(revise({ kind: 'finger', id: at(1, 0).id, finger: null }, again).musicXml).arrangement.notes.every(
        one => one.finger === undefined,
      ),
    ).toBe(true)
  })

  it('of a finger goes beside what a note has already', () => {
    const { musicXml } = revise({ kind: 'finger', id: at(0, 0).id, finger: 5 })
    expect(musicXml).toContain('<technical><up-bow/><fingering>5</fingering></technical>')
  })

  it('of a pitch writes that note and the accidentals it asks for', () => {
    // The first F♯ of the bar becomes F: it needs a natural, and the F♯ after it a sharp.
    const { musicXml } = revise({ kind: 'pitch', ids: [at(1, 2).id], halfSteps: -1 })
    const [before, after] = [measures(SCORE.musicXml), measures(musicXml)]
    expect([after[0], after[2]]).toEqual([before[0], before[2]])
    expect([...after[1]!.matchAll(/<accidental>(.*?)</g)].map(([, one]) => one)).toEqual(['natural', 'sharp'])
    expect(
      read(musicXml)
        .arrangement.notes.filter(one => one.hand === 'right' && one.barIndex === 1)
        .map(one => one.spelled),
    ).toEqual(['G4', 'A4', 'F4', 'F#4'])
  })

  it('of a length keeps what stood between and hung on the notes of its bar', () => {
    const { musicXml, edited } = revise({ kind: 'length', id: at(0, 3).id, duration: quarters(1) })
    const [before, after] = [measures(SCORE.musicXml), measures(musicXml)]
    expect(after.slice(1)).toEqual(before.slice(1))
    for (const mark of [
      'Trio, ma non troppo',
      '<slur type="start" number="3"/>',
      '<slur type="stop" number="3"/>',
      '<up-bow/>',
      '<octave-shift',
      '<sign>C</sign>',
      '<other-notation',
      '<lyric number="2"><text>la</text></lyric>',
    ])
      expect(after[0]).toContain(mark)
    expect(meant(read(musicXml).arrangement)).toEqual(meant(edited))
  })

  it('of a hand moves the note to the other staff', () => {
    const { musicXml } = revise({ kind: 'hand', ids: [at(1, 0).id], hand: 'left' })
    expect(read(musicXml).arrangement.notes.find(one => one.id === at(1, 0).id)!.hand).toBe('left')
    expect(measures(musicXml)[0]).toBe(measures(SCORE.musicXml)[0])
  })

  it('of a key moves the signature, every note and every other part', () => {
    const score = read(
      partsScore([
        ['Voice', `<measure number="1">${attributes({ fifths: 1 })}${quarterNotes('B4 A4 G4 F#4')}</measure>`],
        [
          'Piano',
          `<measure number="1">${attributes({ fifths: 1, staves: 2 })}${quarterNotes('G4 A4 F#4 G4', 1)}${backup(4)}${note({ pitch: 'G2', length: 4, staff: 2, voice: 5 })}</measure>`,
        ],
      ]),
    )
    const { musicXml, edited } = revise({ kind: 'transpose', halfSteps: 2 }, score)
    expect([...musicXml.matchAll(/<fifths>(.*?)</g)].map(([, one]) => one)).toEqual(['3', '3'])
    const again = read(musicXml).arrangement
    expect(meant(again)).toEqual(meant(edited))
    expect(again.others[0]!.notes.map(one => one.spelled)).toEqual(['C#5', 'B4', 'A4', 'G#4'])
    expect(musicXml).not.toContain('<accidental>')
  })

  it('between the notes is set at its moment, and gone again', () => {
    const onset = add(at(1, 1).onset, quarters(1, 2))
    for (const [set, unset, list] of [
      [{ kind: 'chord', onset, symbol: 'D7/F#' }, { kind: 'chord', onset, symbol: null }, 'chords'],
      [{ kind: 'pedal', onset, mark: 'change' }, { kind: 'pedal', onset, mark: null }, 'pedals'],
      [{ kind: 'dynamic', onset, mark: 'mf' }, { kind: 'dynamic', onset, mark: null }, 'dynamics'],
      [{ kind: 'tempo', onset, quarterBpm: 84 }, { kind: 'tempo', onset, quarterBpm: null }, 'tempos'],
    ] as const) {
      const with_ = revise(set)
      const again = read(with_.musicXml)
      expect(again.arrangement[list].map(one => one.onset)).toEqual([onset])
      expect(revise(unset, again).musicXml).toBe(SCORE.musicXml)
    }
  })

  it('of a phrase adds its bars to every part', () => {
    const { musicXml, edited } = revise({
      kind: 'append',
      notes: [
        { hand: 'left', onset: quarters(0), duration: quarters(2), pitch: 50 },
        { hand: 'right', onset: quarters(2), duration: quarters(1, 3), pitch: 74 },
      ],
    })
    expect(measures(musicXml).slice(0, 3)).toEqual(measures(SCORE.musicXml))
    expect(meant(read(musicXml).arrangement)).toEqual(meant(edited))
  })

  it('of a song in triplets that were rounded makes nothing finer than it was', () => {
    const triplet = (pitch: string, rounded: number) =>
      `<note><pitch><step>${pitch}</step><octave>4</octave></pitch><duration>${rounded}</duration><voice>1</voice><type>eighth</type><time-modification><actual-notes>3</actual-notes><normal-notes>2</normal-notes></time-modification></note>`
    const bar = [...'CDEFGABCDEFG'].map((pitch, index) => triplet(pitch, [85, 85, 86][index % 3]!)).join('')
    const score = read(pianoScore([attributes().replace(/<divisions>\d+/, '<divisions>256') + bar, bar]))
    const { musicXml, edited } = revise({ kind: 'delete', ids: [score.arrangement.notes[4]!.id] }, score)
    expect([...new Set([...musicXml.matchAll(/<type>(.*?)</g)].map(([, one]) => one))]).toEqual(['eighth'])
    expect(measures(musicXml)[1]).toContain('<duration>86</duration>')
    expect(meant(read(musicXml).arrangement)).toEqual(meant(edited))
  })
})

describe('a note that is tied within its bar and then held into the next', () => {
  it('gives no notehead an id that another one has', () => {
    // Offbeat in bar 1, so tied there already; then three sixteenths longer than the bar line, so tied in bar 2 as
    // well.
    const written = writeMusicXml(
      read(
        pianoScore([
          attributes({ staves: 1 }) + note({ pitch: 'C5', length: 2.5 }) + note({ pitch: 'D5', length: 1.5 }),
          quarterNotes('E5 F5 G5 A5', 1),
        ]),
      ).arrangement,
    )
    const held = written.arrangement.notes[1]!
    expect(held.tiedIds).toHaveLength(1)
    const removed = applyChange(written.arrangement, { kind: 'delete', ids: [written.arrangement.notes[2]!.id] })
    const longer = applyChange(removed, { kind: 'length', id: held.id, duration: quarters(11, 4) })
    const { arrangement, musicXml } = new ScoreDocument(written).revised(longer)
    expect(arrangement.notes[1]!.tiedIds.length).toBeGreaterThan(1)
    const ids = [...musicXml.matchAll(/<note id="([^"]+)"/g)].map(([, id]) => id)
    expect(new Set(ids).size).toBe(ids.length)
    for (const one of arrangement.notes) for (const id of [one.id, ...one.tiedIds]) expect(ids).toContain(id)
  })
})

describe('every kind of correction on the demo songs', () => {
  it.each(DEMO_FILES)('%s reads back as it was meant', file => {
    const score = demoScore(file)
    const document = new ScoreDocument(score)
    const { notes } = score.arrangement
    for (let place = 3; place < notes.length; place += Math.ceil(notes.length / 6)) {
      const one = notes[place]!
      if (one.grace) continue
      const changes: Change[] = [
        { kind: 'pitch', ids: [one.id], halfSteps: 1 },
        { kind: 'finger', id: one.id, finger: 3 },
        { kind: 'delete', ids: [one.id] },
        { kind: 'length', id: one.id, duration: quarters(one.duration.n, 2 * one.duration.d) },
        { kind: 'hand', ids: [one.id], hand: one.hand === 'left' ? 'right' : 'left' },
        { kind: 'divide', id: one.id, at: add(one.onset, quarters(one.duration.n, 3 * one.duration.d)) },
        { kind: 'transpose', halfSteps: -1 },
      ]
      for (const change of changes) {
        const edited = applyChange(score.arrangement, change)
        expect(meant(read(document.revised(edited).musicXml).arrangement), `${change.kind} of ${one.id}`).toEqual(
          meant(edited),
        )
      }
    }
  })
})

describe('some bars of a document', () => {
  it('hold what held before them, and a correction', () => {
    const edited = applyChange(SCORE.arrangement, { kind: 'pitch', ids: [at(2, 0).id], halfSteps: 2 })
    const { arrangement } = read(new ScoreDocument(SCORE).bars(edited, 1, 2))
    expect(arrangement.bars.map(one => [one.number, one.fifths])).toEqual([
      [2, 1],
      [3, 1],
    ])
    expect(arrangement.notes.map(one => [one.id, one.pitch])).toEqual(
      edited.notes.filter(one => one.barIndex >= 1).map(one => [one.id, one.pitch]),
    )
  })

  it('are of the parts that the hands play', () => {
    const score = read(
      partsScore([
        ['Voice', `<measure number="1">${attributes()}${quarterNotes('B4 A4 G4 F4')}</measure>`],
        [
          'Piano',
          `<measure number="1">${attributes({ staves: 2 })}${quarterNotes('G4 A4 F4 G4', 1)}${backup(4)}${note({ pitch: 'G2', length: 4, staff: 2, voice: 5 })}</measure>`,
        ],
      ]),
    )
    expect(read(new ScoreDocument(score).bars(score.arrangement, 0, 0)).arrangement).toMatchObject({
      others: [],
      notes: { length: 5 },
    })
  })
})

/**
 * Each judged quantity, planted and found. The music is written here; the facts are common practice unless a source is
 * named.
 */
import { describe, expect, it } from 'vitest'
import { attributes, backup, bytesOf, note, pianoScore, quarterNotes } from '../../../tests/material/score'
import { readMusicXml } from '../../formats/musicxml/read'
import type { Arrangement } from '../../music/arrangement'
import { expectedNotes, wholePassage, type ExpectedNote } from '../../music/passage'
import { assessTake } from '../assess'
import type { AssessmentRequest } from '../assessment-request'
import type { Assessment } from '../assessment'
import type { Finding, FindingKind } from '../finding'
import type { TakeNote, TakePedal } from '../take'
import { findingText } from '../../words/findings'

const BPM = 100
const QUARTER = 600
const read = (measures: string[]): Arrangement => readMusicXml(bytesOf(pianoScore(measures))).arrangement
type Change = (note: ExpectedNote, index: number) => Partial<TakeNote>
/** Plays everything as written, but for what `change` says of a note. */
const take = (arrangement: Arrangement, change: Change = () => ({}), pedals: TakePedal[] = []) => ({
  notes: expectedNotes(arrangement, wholePassage(arrangement, 'both'), BPM)
    .map((written, index): TakeNote => ({
      onsetMs: written.onsetMs,
      durationMs: written.durationMs * 0.9,
      pitch: written.pitch,
      velocity: written.hand === 'right' ? 72 + (index % 3) : 60 + (index % 3),
      ...change(written, index),
    }))
    .sort((a, b) => a.onsetMs - b.onsetMs || a.pitch - b.pitch),
  pedals,
})
const assess = (
  arrangement: Arrangement,
  change?: Change,
  more: Partial<AssessmentRequest> = {},
  pedals: TakePedal[] = [],
): Assessment =>
  assessTake({
    arrangement,
    passage: wholePassage(arrangement, 'both'),
    take: take(arrangement, change, pedals),
    mode: 'steady',
    bpm: BPM,
    ...more,
  })
const finding = <Kind extends FindingKind>({ findings }: Assessment, kind: Kind) =>
  findings.find((one): one is Extract<Finding, { kind: Kind }> => one.kind === kind)

const eighths = (pitches: string, staff?: number) =>
  pitches
    .split(' ')
    .map(pitch => note({ pitch, length: 0.5, staff }))
    .join('')
const LINE = read(
  ['C4 D4 E4 F4 G4 F4 E4 D4', 'E4 F4 G4 A4 B4 A4 G4 F4', 'G4 A4 B4 C5 D5 C5 B4 A4', 'G4 F4 E4 D4 C4 D4 B3 C4'].map(
    (bar, index) => (index === 0 ? attributes() : '') + eighths(bar),
  ),
)
const isOffbeat = ({ beat }: { beat: number }) => Math.abs((beat % 1) - 0.5) < 0.01

describe('swing and divisions of the beat', () => {
  it.each([1, 1.5, 2, 3])('even eighths played %f to 1 are measured so', ratio => {
    const assessment = assess(LINE, written =>
      isOffbeat(written) ? { onsetMs: written.onsetMs + QUARTER * (ratio / (1 + ratio) - 0.5) } : {},
    )
    expect(assessment.summary.swingRatio).toBeCloseTo(ratio, 1)
    expect(assessment.summary.swingAsked).toBe(1)
    expect(finding(assessment, 'swing') !== undefined).toBe(ratio > 1.3)
  })

  it('a score that asks for swing is due swung, and played straight is told so', () => {
    const swung = read([
      attributes() +
        '<direction><direction-type><words>Swing</words></direction-type></direction>' +
        eighths('C4 D4 E4 F4 G4 F4 E4 D4'),
      eighths('E4 F4 G4 A4 B4 A4 G4 F4'),
    ])
    const expected = expectedNotes(swung, wholePassage(swung, 'both'), BPM)
    expect(expected[1]!.onsetMs).toBeCloseTo((QUARTER * 2) / 3, 6)
    expect(assess(swung).summary).toMatchObject({ swingAsked: 2, swingRatio: 2, clean: true })
    const straight = assess(swung, written =>
      isOffbeat(written) ? { onsetMs: (written.beat - 1) * QUARTER + (written.bar - 1) * 4 * QUARTER } : {},
    )
    expect(straight.summary.swingRatio).toBeCloseTo(1, 1)
    expect(findingText(finding(straight, 'swing')!)).toContain('2.0 to 1 is asked for')
  })

  it('dotted notes softened to triplets are told from what is written', () => {
    const dotted = read(
      Array.from(
        { length: 3 },
        (_, index) =>
          (index === 0 ? attributes() : '') +
          ['C4', 'D4', 'E4', 'F4'].map(pitch => note({ pitch, length: 0.75 }) + note({ pitch, length: 0.25 })).join(''),
      ),
    )
    const softened = assess(dotted, written =>
      Math.abs((written.beat % 1) - 0.75) < 0.01 ? { onsetMs: written.onsetMs - QUARTER * (0.75 - 2 / 3) } : {},
    )
    expect(findingText(finding(softened, 'rhythm')!)).toContain('2.0 to 1; 3 to 1 is written')
    expect(finding(assess(dotted), 'rhythm')).toBeUndefined()
  })

  it('triplets are judged as triplets', () => {
    const triplet = (pitch: string) =>
      note({
        pitch,
        length: 1 / 3,
        type: 'eighth',
        extra: '<time-modification><actual-notes>3</actual-notes><normal-notes>2</normal-notes></time-modification>',
      })
    const triplets = read(
      Array.from(
        { length: 2 },
        (_, index) =>
          (index === 0 ? attributes() : '') + 'C4 D4 E4 F4 G4 A4 G4 F4 E4 D4 C4 D4'.split(' ').map(triplet).join(''),
      ),
    )
    expect(assess(triplets).summary.clean).toBe(true)
    const limping = assess(triplets, written =>
      Math.abs((written.beat % 1) - 2 / 3) < 0.01 ? { onsetMs: written.onsetMs + 60 } : {},
    )
    expect(findingText(finding(limping, 'rhythm')!)).toContain('the third note comes late')
  })
})

describe('hesitations', () => {
  const cause = (arrangement: Arrangement, bar: number, beat: number) => {
    const assessment = assess(arrangement, written =>
      written.bar > bar || (written.bar === bar && written.beat >= beat - 0.01)
        ? { onsetMs: written.onsetMs + 400 }
        : {},
    )
    return finding(assessment, 'hesitation')!
  }
  const chords = (pitches: string[]) =>
    pitches
      .map(
        (keys, at) =>
          keys
            .split('-')
            .map((pitch, index) => note({ pitch, length: 2, staff: 2, chord: index > 0 }))
            .join('') + (at % 2 ? '' : ''),
      )
      .join('')

  it('are placed at the step where they begin, with its likely cause', () => {
    const song = read([
      attributes({ staves: 2 }) + quarterNotes('C5 D5 E5 F5', 1) + backup(4) + chords(['C3-E3-G3', 'C3-E3-G3']),
      quarterNotes('G5 F5 E5 D5', 1) + backup(4) + chords(['F3-A3-C4', 'F3-A3-C4']),
      quarterNotes('C5 C6 B5 A5', 1) + backup(4) + chords(['F3-A3-C4', 'F3-A3-C4']),
    ])
    expect(cause(song, 2, 1)).toMatchObject({ bar: 2, beat: 1, ms: 400, because: 'chord change', hand: 'left' })
    expect(cause(song, 3, 2)).toMatchObject({ bar: 3, beat: 2, ms: 400, because: 'jump', hand: 'right' })
    expect(findingText(cause(song, 2, 1))).toContain(
      'Bar 2, beat 1, left hand: a pause of about a third of a second (400 ms) before the chord change',
    )
  })

  it('know a crossing by the fingering, a shift by its width, and hands that join', () => {
    const fingered = (pitch: string, finger: number) =>
      note({
        pitch,
        length: 1,
        staff: 1,
        extra: `<notations><technical><fingering>${finger}</fingering></technical></notations>`,
      })
    const scale = read([
      attributes({ staves: 2 }) +
        ['C4', 'D4', 'E4'].map((pitch, index) => fingered(pitch, index + 1)).join('') +
        fingered('F4', 1),
      quarterNotes('G4 D5 E5 F5', 1) +
        backup(4) +
        note({ pitch: 'C3', length: 2, staff: 2 }) +
        note({ length: 2, staff: 2 }),
    ])
    expect(cause(scale, 1, 4)).toMatchObject({ because: 'crossing' })
    expect(cause(scale, 2, 2)).toMatchObject({ because: 'position shift' })
    expect(cause(scale, 2, 1)).toMatchObject({ because: 'hands joining' })
  })

  it('are none after a fermata or in a written ritardando', () => {
    const held = read([
      attributes() +
        quarterNotes('C4 D4 E4') +
        note({ pitch: 'F4', length: 1, extra: '<notations><fermata/></notations>' }),
      quarterNotes('G4 F4 E4 D4'),
    ])
    expect(
      finding(
        assess(held, written => (written.bar > 1 ? { onsetMs: written.onsetMs + 700 } : {}), {
          mode: 'free',
          bpm: undefined,
        }),
        'hesitation',
      ),
    ).toBeUndefined()
    const slowing = read([
      attributes() + quarterNotes('C4 D4 E4 F4'),
      quarterNotes('G4 F4 E4 D4'),
      '<direction><direction-type><words>poco rit.</words></direction-type></direction>' + quarterNotes('E4 D4 C4 C4'),
    ])
    expect(
      finding(
        assess(
          slowing,
          written => (written.bar === 3 ? { onsetMs: written.onsetMs + 120 * (written.beat - 1) ** 2 } : {}),
          { mode: 'free', bpm: undefined },
        ),
        'hesitation',
      ),
    ).toBeUndefined()
  })
})

describe('hands and chords', () => {
  const song = read(
    ['C5 D5 E5 F5', 'G5 F5 E5 D5', 'C5 D5 E5 C5'].map(
      (bar, index) =>
        (index === 0 ? attributes({ staves: 2 }) : '') +
        quarterNotes(bar, 1) +
        backup(4) +
        ['C3 E3 G3', 'F3 A3 C4']
          .map(keys =>
            keys
              .split(' ')
              .map((pitch, at) => note({ pitch, length: 2, staff: 2, chord: at > 0 }))
              .join(''),
          )
          .join(''),
    ),
  )

  it('a left hand 70 ms behind is measured and named; the melody lead of experts (about 30 ms, Goebl 2001, unchecked) is not', () => {
    const behind = (ms: number) =>
      assess(song, written => (written.hand === 'left' ? { onsetMs: written.onsetMs + ms } : {}))
    expect(behind(70).summary.leftBehindMs).toBeCloseTo(70, 0)
    expect(finding(behind(70), 'hands-apart')).toMatchObject({ hand: 'left', ms: 70 })
    expect(finding(behind(30), 'hands-apart')).toBeUndefined()
    expect(behind(30).summary.clean).toBe(true)
  })

  it('a chord that falls apart is named at its place, and each note says by how much', () => {
    const assessment = assess(song, written =>
      written.bar === 2 && written.hand === 'left' && written.beat === 3
        ? { onsetMs: written.onsetMs + (written.pitch - 57) * 24 }
        : {},
    )
    expect(finding(assessment, 'chord-spread')).toMatchObject({ bar: 2, beat: 3, hand: 'left', ms: 168 })
    expect(assessment.notes.filter(one => one.spreadMs !== undefined && Math.abs(one.spreadMs) > 30)).toHaveLength(2)
  })
})

describe('touch', () => {
  it('notes let go early, and notes that ring into the next, each in its hand', () => {
    const early = assess(LINE, written => ({ durationMs: written.durationMs * 0.4 }))
    expect(early.summary.articulation).toBeCloseTo(0.4, 2)
    expect(finding(early, 'released-early')).toMatchObject({ hand: 'right', percent: 40 })
    const blurred = assess(LINE, written => ({ durationMs: written.durationMs * 1.6 }))
    expect(finding(blurred, 'blurred')).toMatchObject({ hand: 'right', ms: 180 })
    expect(blurred.notes.filter(one => one.overlapMs).length).toBeGreaterThan(20)
    expect(
      finding(
        assess(LINE, written => ({ durationMs: written.durationMs * 1.15 })),
        'blurred',
      ),
    ).toBeUndefined()
  })

  it('staccato is no early release, and a pedal that is down hides the fingers', () => {
    const dots = read([
      attributes() +
        'C4 D4 E4 F4'
          .split(' ')
          .map(pitch =>
            note({ pitch, length: 1, extra: '<notations><articulations><staccato/></articulations></notations>' }),
          )
          .join(''),
      quarterNotes('G4 F4 E4 D4'),
    ])
    expect(
      finding(
        assess(dots, written => (written.bar === 1 ? { durationMs: 200 } : {})),
        'released-early',
      ),
    ).toBeUndefined()
    expect(
      finding(
        assess(LINE, written => ({ durationMs: written.durationMs * 0.4 }), {}, [{ atMs: -50, down: true }]),
        'released-early',
      ),
    ).toBeUndefined()
  })
})

describe('loudness', () => {
  const TWO = read(
    ['C5 D5 E5 F5', 'G5 F5 E5 D5', 'C5 D5 E5 C5'].map(
      (bar, index) =>
        (index === 0 ? attributes({ staves: 2 }) : '') +
        quarterNotes(bar, 1) +
        backup(4) +
        quarterNotes('C3 G3 E3 G3', 2),
    ),
  )

  it("a left hand above the melody is named, whatever the keyboard's own level", () => {
    for (const level of [0, 40]) {
      const loud = assess(TWO, (written, index) => ({
        velocity: (written.hand === 'left' ? 66 : 52) + (index % 3) + level,
      }))
      expect(loud.summary.balanceSteps).toBeCloseTo(-14, 0)
      expect(finding(loud, 'balance')).toBeDefined()
    }
    expect(finding(assess(TWO), 'balance')).toBeUndefined()
  })

  it('a keyboard that sends one velocity for all is not judged', () => {
    const flat = assess(TWO, () => ({ velocity: 64 }))
    expect(flat.summary.balanceSteps).toBeNull()
    expect(flat.findings.map(one => one.kind)).toEqual(['clean'])
  })

  it('an accent that does not stand out, and a note that does without being asked', () => {
    const accented = read([
      attributes() +
        quarterNotes('C4 D4 E4') +
        note({ pitch: 'F4', length: 1, extra: '<notations><articulations><accent/></articulations></notations>' }),
      quarterNotes('G4 F4 E4 D4'),
      quarterNotes('C4 D4 E4 F4'),
    ])
    const isAccent = (written: ExpectedNote) => written.bar === 1 && written.beat === 4
    expect(finding(assess(accented), 'accent')).toMatchObject({ bar: 1, beat: 4 })
    expect(
      finding(
        assess(accented, written => (isAccent(written) ? { velocity: 96 } : {})),
        'accent',
      ),
    ).toBeUndefined()
    const thumb = assess(accented, written =>
      isAccent(written) ? { velocity: 96 } : written.bar === 3 && written.beat === 1 ? { velocity: 118 } : {},
    )
    expect(findingText(finding(thumb, 'accent')!)).toContain('Bar 3, beat 1, right hand: C sticks out')
  })

  it('a crescendo is judged by its shape', () => {
    const wedge = (type: string) => `<direction><direction-type><wedge type="${type}"/></direction-type></direction>`
    const swelling = read([
      attributes() + wedge('crescendo') + quarterNotes('C4 D4 E4 F4'),
      quarterNotes('G4 A4 B4 C5') + wedge('stop'),
      quarterNotes('C5 B4 A4 G4'),
    ])
    expect(findingText(finding(assess(swelling), 'dynamics')!)).toContain('the crescendo from beat 1 is not heard yet')
    expect(
      finding(
        assess(swelling, (_, index) => ({ velocity: 50 + 4 * Math.min(index, 7) })),
        'dynamics',
      ),
    ).toBeUndefined()
  })
})

describe('pedal', () => {
  const pedal = (type: string) => `<direction><direction-type><pedal type="${type}"/></direction-type></direction>`
  const pedalled = read([
    attributes() + pedal('start') + quarterNotes('C4 E4 G4 C5'),
    pedal('change') + quarterNotes('A3 C4 E4 A4'),
    pedal('change') + quarterNotes('F4 A4 C5 F5'),
    pedal('change') + quarterNotes('G4 B4 D5 G5'),
    pedal('stop') + note({ pitch: 'C5', length: 4 }),
  ])
  const changing = (lateMs: number): TakePedal[] => [
    { atMs: 30, down: true },
    ...[1, 2, 3, 4].flatMap(bar => [
      { atMs: bar * 4 * QUARTER + lateMs, down: false },
      ...(bar < 4 ? [{ atMs: bar * 4 * QUARTER + lateMs + 130, down: true }] : []),
    ]),
  ]

  it('is judged where the harmony changes: with it, late, early, or not at all', () => {
    expect(assess(pedalled, undefined, {}, changing(60)).findings.map(one => one.kind)).toEqual(['clean'])
    expect(assess(pedalled, undefined, {}, changing(60)).summary.pedalMs).toBe(60)
    expect(finding(assess(pedalled, undefined, {}, changing(320)), 'pedal-late')).toMatchObject({
      bar: 2,
      beat: 1,
      ms: 320,
      count: 4,
    })
    expect(finding(assess(pedalled, undefined, {}, changing(-300)), 'pedal-early')).toMatchObject({ bar: 2, ms: 300 })
    expect(findingText(finding(assess(pedalled, undefined, {}, [{ atMs: 0, down: true }]), 'pedal-late')!)).toContain(
      'not at all',
    )
  })
})

describe('strictness', () => {
  it('asks more of the same take, and hears the same in it', () => {
    const wavering: Change = (written, index) => ({ onsetMs: written.onsetMs + (index % 2 ? 25 : -25) })
    const [gentle, normal, strict] = (['gentle', 'normal', 'strict'] as const).map(strictness =>
      assess(LINE, wavering, { strictness }),
    )
    expect([gentle!, normal!, strict!].map(one => one.summary.clean)).toEqual([true, true, false])
    expect(gentle!.notes).toEqual(strict!.notes)
  })
})

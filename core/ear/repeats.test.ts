/**
 * Repeats counted otherwise than written. Where they lead is common practice: behind the sign, or into the other
 * ending.
 */
import { repeatJumpsOf } from './repeat-jumps'
import { describe, expect, it } from 'vitest'
import { attributes, bytesOf, pianoScore, quarterNotes } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import { expectedNotes, wholePassage } from '../music/passage'
import { assessTake } from './assess'
import { groupScoreEvents } from './score-events'

const barline = (where: 'left' | 'right', inside: string) => `<barline location="${where}">${inside}</barline>`
const [FORWARD, BACKWARD] = [
  barline('left', '<repeat direction="forward"/>'),
  barline('right', '<repeat direction="backward"/>'),
]
const ending = (number: number, isLast = false) =>
  [
    barline('left', `<ending number="${number}" type="start"/>`),
    barline(
      'right',
      `<ending number="${number}" type="${isLast ? 'discontinue' : 'stop'}"/>${isLast ? '' : '<repeat direction="backward"/>'}`,
    ),
  ] as const
const MUSIC = ['C4 E4 D4 F4', 'G4 F4 A4 E4', 'D4 B4 C5 G4', 'A4 F4 G4 E4', 'F4 D4 E4 C4', 'G4 B3 D4 C4'].map(bar =>
  quarterNotes(bar),
)
const read = (bars: string[]) =>
  readMusicXml(bytesOf(pianoScore(bars.map((bar, index) => (index === 0 ? attributes() : '') + bar)))).arrangement
/** Bars 2 to 3 twice. */
const REPEAT = read(MUSIC.map((bar, index) => (index === 1 ? FORWARD + bar : index === 2 ? bar + BACKWARD : bar)))
/** Bars 1 to 2, bar 3 as the first ending; bars 1 to 2, bar 4 as the second. */
const ENDINGS = read(
  MUSIC.map((bar, index) =>
    index === 2 ? ending(1)[0] + bar + ending(1)[1] : index === 3 ? ending(2, true)[0] + bar + ending(2, true)[1] : bar,
  ),
)

type Score = typeof REPEAT
const notesOf = (arrangement: Score) => expectedNotes(arrangement, wholePassage(arrangement, 'both'), 120)
/** The turns as bars: from the end of which to the beginning of which, each with its time through. */
function turns(arrangement: Score): string[] {
  const expected = notesOf(arrangement)
  const events = groupScoreEvents(expected)
  const name = (event: number) => {
    const { bar, time } = expected[events[event]!.notes[0]!]!
    return `${bar}${'′'.repeat(time - 1)}`
  }
  return [...repeatJumpsOf(events, expected, arrangement.bars)]
    .flatMap(([from, tos]) => tos.map(to => `${name(from)} → ${name(to)}`))
    .sort()
}
/** A take of the played bars in another order: places in the unfolded music, by bar. */
function take(arrangement: Score, order: readonly number[]) {
  const expected = notesOf(arrangement)
  return {
    notes: order.flatMap((bar, place) =>
      expected.slice(4 * bar, 4 * bar + 4).map((note, beat) => ({
        onsetMs: (4 * place + beat) * 500 + ((note.pitch * 7) % 9) - 4,
        durationMs: 470,
        pitch: note.pitch,
        velocity: 64,
      })),
    ),
    pedals: [],
  }
}
const found = (arrangement: Score, order: readonly number[], mode: 'steady' | 'free') =>
  assessTake({
    arrangement,
    passage: wholePassage(arrangement, 'both'),
    mode,
    take: take(arrangement, order),
    bpm: mode === 'steady' ? 120 : undefined,
  })

describe('where a player may turn', () => {
  it('at a plain repeat: past it, or once more', () => expect(turns(REPEAT)).toEqual(['3 → 4', '3′ → 2′']))

  it('at endings: into the second at once, or back from it', () => expect(turns(ENDINGS)).toEqual(['2 → 4']))

  it('nowhere without a repeat sign', () => expect(turns(read(MUSIC))).toEqual([]))
})

describe.each(['steady', 'free'] as const)('a %s take', mode => {
  it('with the repeat as written is clean', () => {
    expect(found(REPEAT, [0, 1, 2, 3, 4, 5, 6, 7], mode).findings).toEqual([{ kind: 'clean' }])
    expect(found(ENDINGS, [0, 1, 2, 3, 4, 5, 6, 7], mode).findings).toEqual([{ kind: 'clean' }])
  })

  it('without the repeat is that: nothing is missing and nothing was skipped', () => {
    const { findings, summary } = found(REPEAT, [0, 1, 2, 5, 6, 7], mode)
    expect(findings.map(one => one.kind)).toContain('repeat-not-taken')
    expect(findings.find(one => one.kind === 'repeat-not-taken')).toMatchObject({ fromBar: 2, toBar: 3, count: 8 })
    expect(summary).toMatchObject({ notes: 24, right: 24, missed: 0, extra: 0, restarts: 0 })
  })

  it('with the repeat once too often is that: no restart, and no extra keys', () => {
    const { findings, summary } = found(REPEAT, [0, 1, 2, 3, 4, 3, 4, 5, 6, 7], mode)
    expect(findings.map(one => one.kind)).toContain('repeat-taken-again')
    expect(summary).toMatchObject({ notes: 32, right: 32, missed: 0, extra: 0, restarts: 0 })
  })

  it('straight into the second ending is a repeat not taken', () => {
    const { findings, summary } = found(ENDINGS, [0, 1, 5, 6, 7], mode)
    expect(findings.map(one => one.kind)).toContain('repeat-not-taken')
    expect(summary).toMatchObject({ missed: 0, restarts: 0 })
  })
})

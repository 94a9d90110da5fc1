import type { XMLElement } from 'xmlbuilder'
import type { Arrangement, Bar } from '../../music/arrangement'
import { compare, type Quarters } from '../../music/quarters'
import { writeHarmony } from './harmony'
import { inUnits } from './note-values'

type WriteMark = (measure: XMLElement, offset: number) => void

/**
 * Everything that stands between the notes, in the order of its moments, each with what writes it so many divisions
 * behind the event it stands before.
 */
export function markWriters(arrangement: Arrangement): { onset: Quarters; write: WriteMark }[] {
  const each = <T extends { onset: Quarters }>(list: readonly T[], make: (one: T) => WriteMark) =>
    list.map(one => ({ onset: one.onset, write: make(one) }))
  const direction =
    (one: Omit<Direction, 'offset'>): WriteMark =>
    (measure, offset) =>
      writeDirection(measure, { ...one, offset })
  return [
    ...each(arrangement.rehearsals, ({ name }) => direction({ fill: type => type.ele('rehearsal', name) })),
    ...each(arrangement.tempos, ({ quarterBpm }) =>
      direction({ sound: { tempo: quarterBpm }, fill: type => writeMetronome(type, quarterBpm) }),
    ),
    ...each(arrangement.swings ?? [], ({ unit, ratio }) =>
      direction({
        fill: type => type.ele('words', ratio === 1 ? 'Straight' : 'Swing'),
        ...(ratio === undefined ? {} : { swing: { unit, ratio } }),
      }),
    ),
    ...each(arrangement.tempoWords ?? [], ({ kind }) =>
      direction({ fill: type => type.ele('words', TEMPO_WORDS[kind]) }),
    ),
    ...each(arrangement.chords, chord => (measure, offset) => writeHarmony(measure, chord.symbol, offset)),
    ...each(arrangement.dynamics, ({ mark, hand }) =>
      direction({ below: true, staff: hand && (hand === 'right' ? 1 : 2), fill: type => writeDynamic(type, mark) }),
    ),
    ...each(arrangement.pedals, ({ kind }) =>
      direction({ below: true, staff: 2, fill: type => type.ele('pedal', { type: PEDALS[kind], line: 'yes' }) }),
    ),
  ].sort((a, b) => compare(a.onset, b.onset))
}

/** Everything that stands between the notes of a score, written bar by bar in the order of its moments. */
export class BarMarks {
  private readonly marks: ReturnType<typeof markWriters>
  private readonly lastBar: number
  private next = 0

  constructor(
    arrangement: Arrangement,
    private readonly units: number,
  ) {
    this.lastBar = arrangement.bars.length - 1
    this.marks = markWriters(arrangement)
  }

  /**
   * The marks up to `end`, before the event that stands from `start` to `end`, units from the bar line. What stands at
   * the end of the piece goes with its last event.
   */
  writeWithin(measure: XMLElement, bar: Bar, start: number, end: number): void {
    if (start === 0) {
      if (bar.segno) writeDirection(measure, { fill: type => type.ele('segno'), sound: { segno: 'segno' } })
      if (bar.coda) writeDirection(measure, { fill: type => type.ele('coda'), sound: { coda: 'coda' } })
    }
    const isLast = bar.index === this.lastBar && end === inUnits(bar.length, this.units)
    for (; this.next < this.marks.length; this.next++) {
      const { onset, write } = this.marks[this.next]!
      const at = inUnits(onset, this.units) - inUnits(bar.start, this.units)
      if (at >= end && !isLast) return
      write(measure, Math.max(0, at - start))
    }
  }

  /** The signs at a bar's end that send the player elsewhere. */
  writeJumps(measure: XMLElement, bar: Bar): void {
    const words = (text: string, sound: Record<string, string>) =>
      writeDirection(measure, { fill: type => type.ele('words', text), sound })
    if (bar.toCoda) words('To Coda', { tocoda: 'coda' })
    if (bar.fine) words('Fine', { fine: 'yes' })
    if (bar.jump === 'da capo') words('D.C.', { dacapo: 'yes' })
    if (bar.jump === 'dal segno') words('D.S.', { dalsegno: 'segno' })
  }
}

const TEMPO_WORDS = { slower: 'rit.', faster: 'accel.', back: 'a tempo' }
const PEDALS = { down: 'start', up: 'stop', change: 'change' }
const WEDGES = ['crescendo', 'diminuendo']

interface Direction {
  fill: (type: XMLElement) => void
  /** Units behind the event the direction is written before. */
  offset?: number
  below?: boolean
  staff?: number
  sound?: Record<string, string | number>
  swing?: { unit: 'eighth' | '16th'; ratio: number }
}

function writeDirection(measure: XMLElement, { fill, offset = 0, below, staff, sound, swing }: Direction) {
  const direction = measure.ele('direction', { placement: below ? 'below' : 'above' })
  fill(direction.ele('direction-type'))
  if (offset > 0) direction.ele('offset', { sound: 'yes' }, offset)
  if (staff) direction.ele('staff', staff)
  if (sound) direction.ele('sound', sound)
  if (swing) writeSwing(direction.ele('sound').ele('swing'), swing)
}

function writeSwing(element: XMLElement, { unit, ratio }: { unit: 'eighth' | '16th'; ratio: number }) {
  if (ratio === 1) element.ele('straight')
  else {
    // The format wants whole numbers.
    element.ele('first', Math.round(ratio * 100))
    element.ele('second', 100)
    element.ele('swing-type', unit)
  }
}

function writeMetronome(type: XMLElement, quarterBpm: number) {
  const metronome = type.ele('metronome')
  metronome.ele('beat-unit', 'quarter')
  metronome.ele('per-minute', Math.round(quarterBpm))
}

function writeDynamic(type: XMLElement, mark: string) {
  if (mark === 'wedge end') type.ele('wedge', { type: 'stop' })
  else if (WEDGES.includes(mark)) type.ele('wedge', { type: mark })
  else type.ele('dynamics').ele(mark)
}

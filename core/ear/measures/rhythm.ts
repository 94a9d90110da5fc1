import type { Hand } from '../../music/arrangement'
import { isCompound } from '../../music/meter'
import type { Heard } from '../heard'
import { robustMean, robustSpread } from '../statistics'

/** One way in which beats are divided, over the whole pass. */
export interface Division {
  /** `pairs`: two to the beat, even or swung; `dotted`: three quarters and one; `triplets`: three even. */
  kind: 'pairs' | 'dotted' | 'triplets'
  /** Where in the beat the inner note is written to sound, and where it came, as a share of the beat. */
  asked: number
  played: number
  /** How sure the played share is: its standard error. */
  uncertainty: number
  count: number
  /** The beat that strays furthest. */
  worst: { bar: number, beat: number, hand: Hand }
}

/** Long to short for a share of the beat: two thirds is 2. */
export const ratioOf = (share: number): number => share / (1 - share)

interface Sample extends Pick<Division, 'kind' | 'asked' | 'played'> { bar: number, beat: number, hand: Hand }

/**
 * How each hand divides its beats: for every quarter-note beat with a note on it, one or two inside and one on the next beat, the
 * place of the inner notes between the two beats as they were played. So slow or fast, early or late does not enter into it.
 * Long to short ratios as in swing research (Friberg & Sundström 2002, from memory). Compound meters are left aside.
 */
export function divisions(heard: Heard): Division[] {
  const groups = new Map<string, Sample[]>()
  for (const sample of [...samplesOf(heard, 'right'), ...samplesOf(heard, 'left')]) {
    const key = `${sample.kind}:${sample.asked.toFixed(2)}`
    const group = groups.get(key)
    if (group) group.push(sample)
    else groups.set(key, [sample])
  }
  return [...groups.values()].map((group): Division => {
    const shares = group.map(sample => sample.played)
    const { kind, asked } = group[0]!
    return {
      kind, asked, count: group.length,
      played: Math.min(0.95, Math.max(0.05, robustMean(shares))),
      uncertainty: robustSpread(shares) / Math.sqrt(shares.length),
      worst: group.reduce((far, one) => Math.abs(one.played - asked) > Math.abs(far.played - asked) ? one : far),
    }
  }).sort((a, b) => b.count - a.count)
}

const near = (a: number, b: number): boolean => Math.abs(a - b) < 0.01

function samplesOf({ arrangement, moments }: Heard, hand: Hand): Sample[] {
  const own = moments.flatMap((moment) => {
    const notes = moment.notes.filter(note => note.written.hand === hand)
    if (notes.length === 0) return []
    const { written } = notes[0]!
    return [{ run: moment.run, atMs: moment.atMs, written, playedMs: notes.reduce((sum, note) => sum + note.stroke!.onsetMs, 0) / notes.length }]
  })
  return own.flatMap((first, index): Sample[] => {
    const { bar, barIndex, beat, quarterMs } = first.written
    const { meter } = arrangement.bars[barIndex]!
    const quarter = (written: { beat: number }) => (written.beat - 1) * 4 / meter.beatType
    if (isCompound(meter) || !near(quarter(first.written), Math.round(quarter(first.written)))) return []
    const place = (one: { atMs: number }) => (one.atMs - first.atMs) / quarterMs
    const after = own.slice(index + 1, index + 4)
    const next = after.findIndex(one => near(place(one), 1) && one.run === first.run)
    if (next < 1) return []
    const inner = after.slice(0, next)
    const wholeMs = after[next]!.playedMs - first.playedMs
    if (wholeMs <= 0) return []
    const sample = (kind: Division['kind'], one: typeof first): Sample =>
      ({ kind, asked: place(one), played: (one.playedMs - first.playedMs) / wholeMs, bar, beat, hand })
    if (inner.length === 2) return near(place(inner[0]!), 1 / 3) && near(place(inner[1]!), 2 / 3) ? inner.map(one => sample('triplets', one)) : []
    const written = quarter(inner[0]!.written) - quarter(first.written)
    if (near(written, 0.75)) return [sample('dotted', inner[0]!)]
    return near(written, 0.5) || near(written, 2 / 3) ? [sample('pairs', inner[0]!)] : []
  })
}

import type { Hand } from '../../music/arrangement'
import { feltBeatQuarters, isCompound } from '../../music/meter'
import type { Place } from '../finding'
import { placeOf, type Heard } from '../heard'
import { robustMean, robustSpread } from '../statistics'

/** One way of dividing beats, over the whole pass. */
export interface Division {
  /**
   * Of plain beats `pairs`: two to the beat, even or swung; `dotted`: three quarters and one; `triplets`: three even.
   * Of dotted beats (6/8) `thirds`: three even; `long-short` and its reverse: two thirds and one; `dotted`: the middle
   * note of three that a dot holds back.
   */
  kind: 'pairs' | 'dotted' | 'triplets' | 'thirds' | 'long-short'
  /** Where the inner note is written and where it came, as a share of the beat. */
  asked: number
  played: number
  /** How sure the played share is: its standard error. */
  uncertainty: number
  count: number
  /** The beat that deviates most. */
  worst: Place
  /** The inner notes, by index, and how late each is if all come as they do on average, ms. */
  inner: { note: number; lateMs: number }[]
}

/** Long to short for a share of the beat: two thirds is 2. */
export const ratioOf = (share: number): number => share / (1 - share)

interface Sample extends Pick<Division, 'kind' | 'asked' | 'played'> {
  place: Place
  notes: number[]
  wholeMs: number
}

/**
 * How each hand divides its beats: for every beat with a note on it, one or two inside and one on the next beat, the
 * position of the inner notes between the two beats as played. Tempo and lateness drop out. Long-to-short ratios as in
 * swing research (Friberg & Sundström 2002, unchecked). In compound meters the beat is the dotted one.
 */
export function divisions(heard: Heard): Division[] {
  const groups = new Map<string, Sample[]>()
  for (const sample of [...samplesOf(heard, 'right'), ...samplesOf(heard, 'left')]) {
    const key = `${sample.kind}:${sample.asked.toFixed(2)}`
    const group = groups.get(key)
    if (group) group.push(sample)
    else groups.set(key, [sample])
  }
  return [...groups.values()]
    .map((group): Division => {
      const shares = group.map(sample => sample.played)
      const { kind, asked } = group[0]!
      const played = Math.min(0.95, Math.max(0.05, robustMean(shares)))
      return {
        kind,
        asked,
        count: group.length,
        played,
        uncertainty: robustSpread(shares) / Math.sqrt(shares.length),
        worst: group.reduce((far, one) => (Math.abs(one.played - asked) > Math.abs(far.played - asked) ? one : far))
          .place,
        inner: group.flatMap(({ notes, wholeMs }) => notes.map(note => ({ note, lateMs: (played - asked) * wholeMs }))),
      }
    })
    .sort((a, b) => b.count - a.count)
}

/** Fewer beats than this do not show a habit; and a difference must be this multiple of its uncertainty. */
const MIN_BEATS = 4
const CERTAIN = 2.5

/** Whether the inner notes come elsewhere than asked, beyond chance. */
export const isCertain = ({ asked, played, uncertainty, count }: Division): boolean =>
  count >= MIN_BEATS && Math.abs(played - asked) >= CERTAIN * uncertainty

const near = (a: number, b: number): boolean => Math.abs(a - b) < 0.01

function samplesOf({ arrangement, events }: Heard, hand: Hand): Sample[] {
  const own = events.flatMap(event => {
    const notes = event.notes.filter(note => note.written.hand === hand)
    if (notes.length === 0) return []
    const { written } = notes[0]!
    return [
      {
        run: event.run,
        atMs: event.atMs,
        written,
        notes: notes.map(note => note.index),
        playedMs: notes.reduce((sum, note) => sum + note.stroke!.onsetMs, 0) / notes.length,
      },
    ]
  })
  return own.flatMap((first, index): Sample[] => {
    const { barIndex, quarterMs } = first.written
    const { meter } = arrangement.bars[barIndex]!
    const isDotted = isCompound(meter)
    const wholeQuarters = isDotted ? feltBeatQuarters(meter) : 1
    /** In beats that are divided: quarter notes, or the dotted ones of compound meters. */
    const beats = (written: { beat: number }) => ((written.beat - 1) * 4) / meter.beatType / wholeQuarters
    if (!near(beats(first.written), Math.round(beats(first.written)))) return []
    const place = (one: { atMs: number }) => (one.atMs - first.atMs) / (quarterMs * wholeQuarters)
    const after = own.slice(index + 1, index + 4)
    const next = after.findIndex(one => near(place(one), 1) && one.run === first.run)
    if (next < 1) return []
    const inner = after.slice(0, next)
    const wholeMs = after[next]!.playedMs - first.playedMs
    if (wholeMs <= 0) return []
    const sample = (kind: Division['kind'], one: typeof first): Sample => ({
      kind,
      asked: place(one),
      played: (one.playedMs - first.playedMs) / wholeMs,
      place: placeOf(first.written),
      notes: one.notes,
      wholeMs,
    })
    if (inner.length === 2) {
      if (isDotted && near(place(inner[0]!), 1 / 2) && near(place(inner[1]!), 2 / 3))
        return [sample('dotted', inner[0]!)]
      return near(place(inner[0]!), 1 / 3) && near(place(inner[1]!), 2 / 3)
        ? inner.map(one => sample(isDotted ? 'thirds' : 'triplets', one))
        : []
    }
    const written = beats(inner[0]!.written) - beats(first.written)
    if (isDotted) return near(written, 2 / 3) || near(written, 1 / 3) ? [sample('long-short', inner[0]!)] : []
    if (near(written, 0.75)) return [sample('dotted', inner[0]!)]
    return near(written, 0.5) || near(written, 2 / 3) ? [sample('pairs', inner[0]!)] : []
  })
}

import type { Heard, HeardNote } from '../heard'
import { atPlaces, barsOf, type Weighed } from './weighed'

/**
 * A take of which less than this share of notes and strokes fits is of something else (own choice; takes of other demo
 * songs reach a quarter).
 */
const STRANGE_SHARE = 0.4
const STRANGE_STROKES = 8
/** So much left unplayed at the end is a stop, not missed notes. */
const STOPPED_SHARE = 0.2
const STOPPED_NOTES = 4

/** Nothing was played, or something else was: then nothing else is worth saying. */
export function hopeless({ notes, take, alignment }: Heard): Weighed | undefined {
  const right = notes.filter(note => note.outcome === 'right').length
  if (take.notes.length === 0 && notes.length > 0)
    return { weight: 100, finding: { kind: 'nothing-played', notes: notes.length } }
  const { displaced } = alignment
  const fitting = displaced
    ? notes.filter(note => note.outcome === 'right' || (note.outcome === 'wrong' && isDisplaced(note, displaced)))
        .length
    : right
  const unexcused =
    take.notes.length - alignment.extras.filter(extra => extra.reason && extra.reason !== 'restruck').length
  const fits = fitting / Math.max(1, Math.min(notes.length, unexcused))
  const isStrange = unexcused >= STRANGE_STROKES && (fits < STRANGE_SHARE || fitting < 0.5 * STRANGE_SHARE * unexcused)
  if (!isStrange && fitting > 0) return undefined
  return { weight: 100, finding: { kind: 'not-this-music', right, played: unexcused, notes: notes.length } }
}

/** A note of a hand that lies elsewhere, struck where the hand lies. */
export const isDisplaced = ({ written, stroke }: HeardNote, displaced: Heard['alignment']['displaced']): boolean =>
  displaced !== undefined &&
  written.hand === displaced.hand &&
  stroke !== undefined &&
  stroke.pitch - written.pitch === displaced.halfSteps

/**
 * Notes that the player never came by, by index: left out between two places, or after the take had stopped, or still
 * to come when a slow take was cut off.
 */
export function passedOver({ notes, alignment, tempo, steady }: Heard): Set<number> {
  const { attempts } = alignment.followed
  const last = Math.max(-1, ...attempts.runs.map(run => run.lastMoment))
  const firstEver = Math.min(Infinity, ...attempts.runs.map(run => run.firstMoment))
  const after = notes.filter(note => note.followed > last)
  const stopped = after.length >= STOPPED_NOTES && after.length >= STOPPED_SHARE * notes.length
  const cutOff = isCutOff({ steady, tempo })
  return new Set(
    notes.flatMap(note => {
      if (note.isLeftOut) return []
      const between =
        note.followed < last && (note.followed > firstEver || firstEver > 3) && attempts.runOfMoment[note.followed]! < 0
      return between || ((stopped || cutOff) && note.followed > last) ? [note.index] : []
    }),
  )
}

/**
 * Somebody slower than the click is still playing when the round ends, and so is one who lost beats or came in late:
 * what is not heard any more is not missing.
 */
const isCutOff = ({ steady, tempo: { heard } }: Pick<Heard, 'steady' | 'tempo'>): boolean =>
  steady &&
  ((heard.whole ?? 1) < 1 ||
    heard.sections.some(one => one.tempoRatio < 1) ||
    heard.counting.some(one => one.counted > one.written) ||
    heard.entries.some(one => one.beats > 0))

/** Restarts, gaps, a stop, and repeats left out or taken once too often. */
export function routeFindings(heard: Heard): Weighed[] {
  const { notes, alignment, arrangement } = heard
  const { runs } = alignment.followed.attempts
  const { restarts, repeats } = alignment
  const found: Weighed[] = repeats.map(({ kind, fromBarIndex, toBarIndex, from, to }) => ({
    weight: 13,
    finding: {
      kind: kind === 'not-taken' ? 'repeat-not-taken' : 'repeat-taken-again',
      fromBar: arrangement.bars[fromBarIndex]!.number,
      toBar: arrangement.bars[toBarIndex]!.number,
      count: kind === 'not-taken' ? notes.filter(note => note.isLeftOut).length : to - from + 1,
    },
  }))
  const isRepeat = new Set(repeats.map(one => one.run))
  const nextOf = (moment: number) => notes.filter(note => note.followed >= moment)
  if (restarts > 0) {
    const back = runs.findIndex(
      (run, index) => index > 0 && !isRepeat.has(index) && run.firstMoment <= runs[index - 1]!.lastMoment,
    )
    const [place] = nextOf(runs[Math.max(0, back)]!.firstMoment)
    if (place)
      found.push({ weight: 9 + 2 * restarts, finding: { kind: 'restart', ...atPlaces([place]), count: restarts } })
  }
  const last = Math.max(-1, ...runs.map(run => run.lastMoment))
  const past = passedOver(heard)
  const left = notes.filter(note => past.has(note.index))
  const gap = left.filter(note => note.followed < last)
  if (gap.length > 0) {
    found.push({
      weight: 12 + Math.min(3, gap.length / 8),
      finding: {
        kind: 'skipped',
        ...atPlaces(gap),
        ...barsOf(gap),
        bars: [...new Set(gap.map(note => note.written.bar))].sort((a, b) => a - b),
      },
    })
  }
  const rest = left.filter(note => note.followed > last)
  if (rest.length > 0 && !isCutOff(heard)) found.push({ weight: 13, finding: { kind: 'stopped', ...atPlaces(rest) } })
  return found
}

import type { Heard, HeardNote } from '../heard'
import { atPlaces, barNumbersOf, type WeightedFinding } from './weighed'

/**
 * Below this share of matching notes and strokes the take is of other music (own choice; takes of other demo songs
 * reach a quarter).
 */
const STRANGE_SHARE = 0.4
const STRANGE_STROKES = 8
/** With this share unplayed at the end, the player stopped; those notes are not missed. */
const STOPPED_SHARE = 0.2
const STOPPED_NOTES = 4

/** Nothing was played, or other music: no other finding is worth making. */
export function hopeless({ notes, take, alignment }: Heard): WeightedFinding | undefined {
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

/** A note of a displaced hand, struck where that hand lies. */
export const isDisplaced = ({ written, stroke }: HeardNote, displaced: Heard['alignment']['displaced']): boolean =>
  displaced !== undefined &&
  written.hand === displaced.hand &&
  stroke !== undefined &&
  stroke.pitch - written.pitch === displaced.halfSteps

/** Notes the player never reached, by index: skipped, after a stop, or still to come when a slow take was cut off. */
export function passedOver({ notes, alignment, tempo, steady }: Heard): Set<number> {
  const { attempts } = alignment.followed
  const last = Math.max(-1, ...attempts.runs.map(run => run.lastEvent))
  const firstEver = Math.min(Infinity, ...attempts.runs.map(run => run.firstEvent))
  const after = notes.filter(note => note.followed > last)
  const stopped = after.length >= STOPPED_NOTES && after.length >= STOPPED_SHARE * notes.length
  const cutOff = isCutOff({ steady, tempo })
  return new Set(
    notes.flatMap(note => {
      if (note.isLeftOut) return []
      const between =
        note.followed < last && (note.followed > firstEver || firstEver > 3) && attempts.runOfEvent[note.followed]! < 0
      return between || ((stopped || cutOff) && note.followed > last) ? [note.index] : []
    }),
  )
}

/**
 * A player slower than the click, or who lost beats or came in late, is still playing when the round ends: what follows
 * is not missing.
 */
const isCutOff = ({ steady, tempo: { heard } }: Pick<Heard, 'steady' | 'tempo'>): boolean =>
  steady &&
  ((heard.whole ?? 1) < 1 ||
    heard.sections.some(one => one.tempoRatio < 1) ||
    heard.counting.some(one => one.counted > one.written) ||
    heard.entries.some(one => one.beats > 0))

/** Restarts, gaps, a stop, and repeats left out or taken once too often. */
export function routeFindings(heard: Heard): WeightedFinding[] {
  const { notes, alignment, arrangement } = heard
  const { runs } = alignment.followed.attempts
  const { restarts, repeats } = alignment
  const found: WeightedFinding[] = repeats.map(({ kind, fromBarIndex, toBarIndex, from, to }) => ({
    weight: 13,
    finding: {
      kind: kind === 'not-taken' ? 'repeat-not-taken' : 'repeat-taken-again',
      fromBar: arrangement.bars[fromBarIndex]!.number,
      toBar: arrangement.bars[toBarIndex]!.number,
      count: kind === 'not-taken' ? notes.filter(note => note.isLeftOut).length : to - from + 1,
    },
  }))
  const isRepeat = new Set(repeats.map(one => one.run))
  const nextOf = (event: number) => notes.filter(note => note.followed >= event)
  if (restarts > 0) {
    const back = runs.findIndex(
      (run, index) => index > 0 && !isRepeat.has(index) && run.firstEvent <= runs[index - 1]!.lastEvent,
    )
    const [place] = nextOf(runs[Math.max(0, back)]!.firstEvent)
    if (place)
      found.push({ weight: 9 + 2 * restarts, finding: { kind: 'restart', ...atPlaces([place]), count: restarts } })
  }
  const last = Math.max(-1, ...runs.map(run => run.lastEvent))
  const past = passedOver(heard)
  const left = notes.filter(note => past.has(note.index))
  const gap = left.filter(note => note.followed < last)
  if (gap.length > 0) {
    found.push({
      weight: 12 + Math.min(3, gap.length / 8),
      finding: {
        kind: 'skipped',
        ...atPlaces(gap),
        ...barNumbersOf(gap),
        bars: [...new Set(gap.map(note => note.written.bar))].sort((a, b) => a - b),
      },
    })
  }
  const rest = left.filter(note => note.followed > last)
  if (rest.length > 0 && !isCutOff(heard)) found.push({ weight: 13, finding: { kind: 'stopped', ...atPlaces(rest) } })
  return found
}

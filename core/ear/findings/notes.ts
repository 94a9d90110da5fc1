import { bisector } from 'd3-array'
import { displayName } from '../../music/pitch'
import { barText, beatText, lowerFirst } from '../../music/place-words'
import type { Heard, HeardNote } from '../heard'
import { barsText, keyName, placeOf, placeText, plural, stepsText } from './words'
import type { Weighed } from './weighed'

/** A take of which less than this share of notes and strokes fits is of something else (own choice; takes of other demo songs reach a quarter). */
const STRANGE_SHARE = 0.4
const STRANGE_STROKES = 8
/** So much left unplayed at the end is a stop, not missed notes. */
const STOPPED_SHARE = 0.2
const STOPPED_NOTES = 4

/** Nothing was played, or something else was: then nothing else is worth saying. */
export function hopeless({ notes, take, alignment }: Heard): Weighed | undefined {
  const right = notes.filter(note => note.outcome === 'right').length
  const first = notes[0]
  if (take.notes.length === 0 && first) {
    return { weight: 100, finding: { kind: 'missed-note', ...placeOf(first.written), text: `No notes were heard in this pass; ${notes.length} were due. Wait for the count-in, then begin.` } }
  }
  const unexcused = take.notes.length - alignment.extras.filter(extra => extra.reason).length
  const fits = right / Math.max(1, Math.min(notes.length, unexcused))
  const isStrange = unexcused >= STRANGE_STROKES && (fits < STRANGE_SHARE || right < 0.5 * STRANGE_SHARE * unexcused)
  if (!isStrange && right > 0) return undefined
  return { weight: 100, finding: { kind: 'not-this-music', text: right === 0
    ? `None of the ${notes.length} notes due here was heard. Check the hands, the octave and the part, then begin again.`
    : `This sounds like something else: only ${right} of ${plural(unexcused, 'played note')} fit what is written here. Check the part and the hands, then begin again.` } }
}

/** Wrong, missed and octave-displaced notes, gathered by bar and hand: a place to work on, not a list of slips. */
export function noteFindings(heard: Heard): Weighed[] {
  const { notes } = heard
  const passedOver = unplayed(heard)
  const faulty = notes.filter(note => note.outcome !== 'right' && !note.sharedKey && !passedOver.has(note.index))
  const octaves = faulty.filter(note => note.outcome === 'wrong' && isOctave(note))
  const wrong = faulty.filter(note => note.outcome === 'wrong' && !isOctave(note))
  const missed = faulty.filter(note => note.outcome === 'missed')
  return [
    ...byPlace(wrong).map(group => wrongFinding(heard, group)),
    ...byPlace(octaves).map(octaveFinding),
    ...byPlace(missed).map(missedFinding),
    ...routeFindings(heard, passedOver),
  ]
}

export const isOctave = ({ stroke, written }: HeardNote): boolean => stroke !== undefined && (stroke.pitch - written.pitch) % 12 === 0

function byPlace(notes: readonly HeardNote[]): HeardNote[][] {
  const places = new Map<string, HeardNote[]>()
  for (const note of notes) {
    const key = `${note.written.hand}:${note.written.barIndex}:${note.written.time}`
    const group = places.get(key)
    if (group) group.push(note)
    else places.set(key, [note])
  }
  return [...places.values()]
}

function wrongFinding({ arrangement }: Heard, group: readonly HeardNote[]): Weighed {
  const [first] = group as [HeardNote]
  const { written } = first
  const instead = ({ stroke, written: note }: HeardNote) => `${keyName(arrangement, stroke!.pitch, note.barIndex)} instead of ${displayName(note.spelled, false)}`
  const shift = first.stroke!.pitch - written.pitch
  const isShifted = group.length >= 3 && group.every(note => note.stroke!.pitch - note.written.pitch === shift)
  const text = isShifted
    ? `${placeText(written, { beat: false })}: the hand lies ${stepsText(shift)} too ${shift > 0 ? 'high' : 'low'} for ${plural(group.length, 'note')}. Find its first key before the bar begins, then play the bar alone.`
    : group.length > 1
      ? `${placeText(written, { beat: false })}: ${group.length} wrong notes, first ${instead(first)} on ${beatText(written.beat)}. Play that bar alone, slower, until it is right three times.`
      : `${placeText(written)}: ${instead(first)}. Play that beat alone three times, then the bar.`
  return { weight: 10 + Math.min(6, 1.5 * (group.length - 1)), finding: { kind: 'wrong-note', ...placeOf(written), count: group.length, text } }
}

function octaveFinding(group: readonly HeardNote[]): Weighed {
  const { written, stroke } = group[0]!
  const where = stroke!.pitch > written.pitch ? 'high' : 'low'
  const text = group.length > 1
    ? `${placeText(written, { beat: false })}: ${group.length} notes were played in another octave, too ${where}. Find ${displayName(written.spelled)} before you start.`
    : `${placeText(written)}: ${displayName(written.spelled, false)} was played in another octave, too ${where}. Find ${displayName(written.spelled)} before you start.`
  return { weight: 9 + Math.min(4, group.length - 1), finding: { kind: 'octave', ...placeOf(written), count: group.length, text } }
}

function missedFinding(group: readonly HeardNote[]): Weighed {
  const { written } = group[0]!
  const text = group.length > 1
    ? `${placeText(written, { beat: false })}: ${group.length} notes are missing, first ${displayName(written.spelled)} on ${beatText(written.beat)}. Play that bar alone, slower, listening for each of them.`
    : `${placeText(written)}: ${displayName(written.spelled)} is missing. Play that beat alone three times, then the bar.`
  const main = group.filter(note => !note.written.grace).length
  return { weight: (main > 0 ? 9 : 3) + Math.min(6, 1.5 * (group.length - 1)), finding: { kind: 'missed-note', ...placeOf(written), count: group.length, text } }
}

/** Notes that the player never came by: left out between two places, or after the take had stopped. */
function unplayed({ notes, alignment }: Heard): Set<number> {
  const { attempts } = alignment.followed
  const last = Math.max(-1, ...attempts.runs.map(run => run.lastMoment))
  const firstEver = Math.min(Infinity, ...attempts.runs.map(run => run.firstMoment))
  const after = notes.filter(note => note.followed > last)
  const stopped = after.length >= STOPPED_NOTES && after.length >= STOPPED_SHARE * notes.length
  return new Set(notes.flatMap((note) => {
    const between = note.followed < last && (note.followed > firstEver || firstEver > 3) && attempts.runOfMoment[note.followed]! < 0
    return between || (stopped && note.followed > last) ? [note.index] : []
  }))
}

/** Restarts, gaps and a stop. */
function routeFindings(heard: Heard, passedOver: ReadonlySet<number>): Weighed[] {
  const { notes, alignment } = heard
  const { runs, restarts } = alignment.followed.attempts
  const found: Weighed[] = []
  const nextOf = (moment: number) => notes.find(note => note.followed >= moment)
  if (restarts > 0) {
    const back = runs.findIndex((run, index) => index > 0 && run.firstMoment <= runs[index - 1]!.lastMoment)
    const place = nextOf(runs[Math.max(0, back)]!.firstMoment)!.written
    const times = restarts === 1 ? 'once' : restarts === 2 ? 'twice' : `${restarts} times`
    found.push({ weight: 9 + 2 * restarts, finding: { kind: 'restart', ...placeOf(place), count: restarts, text: `You stopped and took up again ${times}, ${restarts === 1 ? 'at' : 'first at'} ${lowerFirst(placeText(place, { hand: false }))}. Choose a tempo at which you can keep going past a slip.` } })
  }
  const last = Math.max(-1, ...runs.map(run => run.lastMoment))
  const left = notes.filter(note => passedOver.has(note.index))
  const gap = left.filter(note => note.followed < last)
  if (gap.length > 0) {
    const bars = barsText(gap.map(note => note.written.bar))
    found.push({ weight: 12, finding: { kind: 'skipped', ...placeOf(gap[0]!.written), count: gap.length, text: `In ${bars} ${plural(gap.length, 'note')} ${gap.length === 1 ? 'was' : 'were'} left out. Play across that place slowly, from the bar before it.` } })
  }
  const rest = left.filter(note => note.followed > last)
  if (rest.length > 0) {
    const { written } = rest[0]!
    found.push({ weight: 13, finding: { kind: 'stopped', ...placeOf(written), count: rest.length, text: `The take stops before ${lowerFirst(barText(written.bar))}, ${beatText(written.beat)}; ${plural(rest.length, 'note')} after it ${rest.length === 1 ? 'was' : 'were'} not heard. Begin the next one there.` } })
  }
  return found
}

/** Keys struck for nothing, by bar. */
export function extraFindings(heard: Heard): Weighed[] {
  const { arrangement, alignment, take, notes } = heard
  const inTime = notes.map(note => note.written.grace ? undefined : note).filter(note => note !== undefined).sort((a, b) => a.dueMs - b.dueMs)
  const groups = new Map<string, { near: HeardNote, pitch: number, count: number }>()
  for (const { played, reason } of alignment.extras) {
    if (reason) continue
    const { pitch, onsetMs } = take.notes[played]!
    const near = nearest(inTime, onsetMs)
    if (!near) continue
    const key = `${near.written.barIndex}:${near.written.time}`
    const group = groups.get(key)
    if (group) group.count++
    else groups.set(key, { near, pitch, count: 1 })
  }
  return [...groups.values()].map(({ near, pitch, count }) => {
    const name = keyName(arrangement, pitch, near.written.barIndex)
    const text = count > 1
      ? `${barText(near.written.bar)}: ${count} extra keys were struck, first ${name} near ${beatText(near.written.beat)}. Lift the fingers that have nothing to do, and play the bar once more.`
      : `An extra ${name} was struck near ${lowerFirst(placeText(near.written))}. Lift that finger and play the beat once more.`
    return { weight: 6 + Math.min(4, count - 1), finding: { kind: 'extra-note', ...placeOf(near.written), count, text } }
  })
}

const noteBy = bisector((note: HeardNote) => note.dueMs)

const nearest = (inTime: readonly HeardNote[], atMs: number): HeardNote | undefined => inTime[noteBy.center(inTime, atMs)]

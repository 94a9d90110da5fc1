import { EACH_HAND } from '#core/music/arrangement'
import { bisector } from 'd3-array'
import { dueMarks } from '../../music/passage'
import type { Heard, HeardNote } from '../heard'
import { median, robustMean, robustSpread, slopeOf, type Point } from '../statistics'

/** Loudness in steps of MIDI velocity, from the keyboard's own level: only differences are judged. */
export interface Dynamics {
  /** Melody (the highest note of the right hand) above the left hand, and its standard error; null for one hand. */
  balance: { steps: number; uncertainty: number } | null
  /** Marked accents and how far each lies above its neighbours. */
  accents: { note: HeardNote; steps: number }[]
  /** Unmarked notes that stick out of their hand. */
  stickingOut: { note: HeardNote; steps: number }[]
  /** Crescendos and diminuendos: the direction asked for, and the steps from end to end in that direction. */
  shapes: { kind: 'crescendo' | 'diminuendo'; bar: number; beat: number; steps: number }[]
  /** Marked levels where the louder one was not louder. */
  levels: { from: string; to: string; bar: number; steps: number }[]
}

/** A keyboard that sends one velocity for all keys says nothing. */
const FIXED_VELOCITY_SPREAD = 0.5
const NEIGHBOURS = 5
/** The usual order of levels (common practice). */
const LEVELS = ['ppp', 'pp', 'p', 'mp', 'mf', 'f', 'ff', 'fff']
const ACCENTS = ['accent', 'strong-accent']

export function dynamics(heard: Heard): Dynamics | null {
  const loud = heard.notes.filter(note => note.outcome === 'right' && note.stroke && !note.written.grace)
  if (loud.length < 8 || robustSpread(loud.map(velocityOf)) < FIXED_VELOCITY_SPREAD) return null
  return {
    balance: balanceOf(heard, loud),
    ...standingOut(loud, heard.ear.tolerances.stickOutSteps),
    ...shapesOf(heard, loud),
  }
}

const noteBy = bisector((note: HeardNote) => note.written.eventMs)
const velocityOf = (note: HeardNote): number => note.stroke!.velocity

function balanceOf({ hands }: Heard, loud: readonly HeardNote[]): Dynamics['balance'] {
  if (hands !== 'both') return null
  const tops = new Map<number, HeardNote>()
  for (const note of loud) {
    if (note.written.hand === 'right' && note.written.pitch > (tops.get(note.event)?.written.pitch ?? 0))
      tops.set(note.event, note)
  }
  const [melody, accompaniment] = [
    [...tops.values()].map(velocityOf),
    loud.filter(note => note.written.hand === 'left').map(velocityOf),
  ]
  if (melody.length < 6 || accompaniment.length < 6) return null
  return {
    steps: robustMean(melody) - robustMean(accompaniment),
    uncertainty: Math.hypot(
      robustSpread(melody) / Math.sqrt(melody.length),
      robustSpread(accompaniment) / Math.sqrt(accompaniment.length),
    ),
  }
}

function standingOut(loud: readonly HeardNote[], stickOutSteps: number): Pick<Dynamics, 'accents' | 'stickingOut'> {
  const accents: Dynamics['accents'] = []
  const stickingOut: Dynamics['stickingOut'] = []
  for (const hand of EACH_HAND) {
    const own = loud.filter(note => note.written.hand === hand)
    const isAccent = own.map(({ written }) => written.articulations?.some(mark => ACCENTS.includes(mark)) ?? false)
    own.forEach((note, index) => {
      const around: number[] = []
      for (let at = Math.max(0, index - NEIGHBOURS); at <= Math.min(own.length - 1, index + NEIGHBOURS); at++) {
        if (own[at]!.event !== note.event && !isAccent[at]) around.push(velocityOf(own[at]!))
      }
      if (around.length < 4) return
      const steps = velocityOf(note) - median(around)
      if (isAccent[index]) accents.push({ note, steps })
      else if (steps > stickOutSteps && steps > 4 * robustSpread(around)) stickingOut.push({ note, steps })
    })
  }
  return { accents, stickingOut: stickingOut.sort((a, b) => b.steps - a.steps) }
}

function shapesOf(
  { arrangement, passage, bpm }: Heard,
  loud: readonly HeardNote[],
): Pick<Dynamics, 'shapes' | 'levels'> {
  const marks = dueMarks(arrangement, passage, arrangement.dynamics, bpm)
  const shapes: Dynamics['shapes'] = []
  const levels: Dynamics['levels'] = []
  const between = (fromMs: number, toMs: number) =>
    loud.slice(noteBy.left(loud, fromMs - 1), noteBy.left(loud, toMs + 1))
  const endMs = (loud.at(-1)?.written.eventMs ?? 0) + 1
  marks.forEach((mark, index) => {
    if (mark.mark === 'crescendo' || mark.mark === 'diminuendo') {
      const end = marks.slice(index + 1).find(one => one.mark === 'wedge end')
      const inside = between(mark.atMs, end?.atMs ?? endMs)
      const points = inside.map((note): Point => [note.written.eventMs, velocityOf(note)])
      const slope = points.length >= 4 ? slopeOf(points) : Number.NaN
      if (!Number.isFinite(slope)) return
      const rise = slope * (points.at(-1)![0] - points[0]![0])
      shapes.push({ kind: mark.mark, bar: mark.bar, beat: mark.beat, steps: mark.mark === 'crescendo' ? rise : -rise })
    }
  })
  const steady = marks.filter(mark => LEVELS.includes(mark.mark) && !mark.hand)
  steady.forEach((mark, index) => {
    const before = steady[index - 1]
    if (!before || before.mark === mark.mark) return
    const [then, now] = [between(before.atMs, mark.atMs - 2), between(mark.atMs, steady[index + 1]?.atMs ?? endMs)]
    if (then.length < 8 || now.length < 8) return
    const rise = robustMean(now.map(velocityOf)) - robustMean(then.map(velocityOf))
    levels.push({
      from: before.mark,
      to: mark.mark,
      bar: mark.bar,
      steps: LEVELS.indexOf(mark.mark) > LEVELS.indexOf(before.mark) ? rise : -rise,
    })
  })
  return { shapes, levels }
}

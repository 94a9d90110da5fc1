import type { FingerNote } from './finger-note'
import type { Hand } from '../music/arrangement'
import { AT_REST, EFFORT, isBlack, spanOf, TABLE_REACH, type Finger } from './ergonomics'
import { figureWishes, type FingerPreference } from './figures'
import { shapeDeviation, shapeOf } from './hand-shape'

export interface FingeringOptions {
  hand: Hand
  /** How far the player reaches from thumb to little finger, half steps. */
  reach?: number
  /** The key's tonic as a pitch class, for runs that fit several scales. */
  tonic?: number
}

export type FingeringEventKind =
  'crossing' | 'substitution' | 'stretch' | 'position-change' | 'repeated-note' | 'beyond-reach' | 'impossible'
/** Something the hand does between or on notes: which note it happens at. */
export interface FingeringEvent {
  kind: FingeringEventKind
  id: string
  finger: Finger
  from?: Finger
  halfSteps?: number
}

export interface FingeredNote {
  id: string
  finger: Finger
  locked: boolean
  /** Every finger that is possible here, with what the whole passage would cost more. */
  alternatives: { finger: Finger; extraCost: number }[]
}

export interface Fingering {
  notes: FingeredNote[]
  cost: number
  events: FingeringEvent[]
}

/** Notes that begin together, and what the hand still holds then. Keys from low to high, as for the right hand. */
interface FingeredEvent {
  struck: number[]
  keys: number[]
  atMs: number
  states: Finger[][]
  own: number[]
}

/** A key is held over the next stroke when it is written to sound at least so much longer, ms. */
const HELD_MS = 30

/**
 * Fingers for one hand's notes, sorted by onset: the way of least effort through all moments (dynamic programming over
 * the fingers of what is struck and held, after Parncutt and others 1997 and Hart, Bosch & Tsai 2000, unchecked).
 * Locked fingers are kept as they are.
 */
export function findFingering(notes: readonly FingerNote[], options: FingeringOptions): Fingering {
  if (notes.length === 0) return { notes: [], cost: 0, events: [] }
  const reach = options.reach ?? TABLE_REACH
  // The left hand is the right one in a mirror: pitches turned around, so that fingers rise with them.
  const isLeft = options.hand === 'left'
  const key = (index: number) => (isLeft ? -notes[index]!.pitch : notes[index]!.pitch)
  const keys = notes.map((_, index) => key(index))
  const black = notes.map(note => isBlack(note.pitch))
  const pattern = figureWishes({ notes, keys, moments: struckTogether(notes, keys), hand: options.hand }, options.tonic)
  const context: Context = { notes, keys, black, reach, pattern }
  const moments = momentsOf(context)

  const { cost, chosen, through } = leastEffort(context, moments)
  const fingered: FingeredNote[] = []
  moments.forEach((moment, at) => {
    moment.struck.forEach(note => {
      const place = moment.keys.indexOf(note)
      const finger = moment.states[chosen[at]!]![place]!
      const extra = new Map<Finger, number>()
      moment.states.forEach((fingers, one) => {
        const more = through[at]![one]! - cost
        const known = extra.get(fingers[place]!)
        if (known === undefined || more < known) extra.set(fingers[place]!, more)
      })
      fingered[note] = {
        id: notes[note]!.id,
        finger,
        locked: notes[note]!.locked !== undefined,
        alternatives: [...extra]
          .filter(([one]) => one !== finger)
          .map(([one, more]) => ({ finger: one, extraCost: Math.round(more * 100) / 100 }))
          .sort((a, b) => a.extraCost - b.extraCost),
      }
    })
  })
  return { notes: fingered, cost: Math.round(cost * 100) / 100, events: eventsOf(context, moments, chosen) }
}

/**
 * The cheapest way through all moments, each seen with the two before it, and for every state of every moment what the
 * cheapest way through that one costs. `pair` runs over a state of the moment before and one of this moment.
 */
function leastEffort(
  context: Context,
  moments: readonly FingeredEvent[],
): { cost: number; chosen: number[]; through: number[][] } {
  const size = (at: number) => (at < 0 ? 1 : moments[at]!.states.length)
  const steps = moments.map((here, at) =>
    at === 0
      ? here.own.map((own, h) => own + startCost(context, moments, h))
      : Array.from({ length: size(at - 1) * size(at) }, (_, pair) => {
          const [b, h] = [Math.floor(pair / size(at)), pair % size(at)]
          return here.own[h]! + transition(context, moments[at - 1]!, b, here, h)
        }),
  )
  const forward: number[][] = [steps[0]!]
  const from: number[][] = [[]]
  const turn = (at: number, a: number, b: number, h: number) =>
    at < 2 ? 0 : positionCost(context, moments, at, a, b, h)
  for (let at = 1; at < moments.length; at++) {
    const costs: number[] = []
    const came: number[] = []
    for (let b = 0; b < size(at - 1); b++) {
      for (let h = 0; h < size(at); h++) {
        let best = Number.POSITIVE_INFINITY
        let source = 0
        for (let a = 0; a < size(at - 2); a++) {
          const cost = forward[at - 1]![a * size(at - 1) + b]! + turn(at, a, b, h)
          if (cost < best) [best, source] = [cost, a]
        }
        costs.push(best + steps[at]![b * size(at) + h]!)
        came.push(source)
      }
    }
    forward.push(costs)
    from.push(came)
  }
  const backward: number[][] = Array.from({ length: moments.length })
  backward[moments.length - 1] = forward.at(-1)!.map(() => 0)
  for (let at = moments.length - 2; at >= 0; at--) {
    backward[at] = forward[at]!.map((_, pair) => {
      const [a, b] = [Math.floor(pair / size(at)), pair % size(at)]
      let best = Number.POSITIVE_INFINITY
      for (let h = 0; h < size(at + 1); h++) {
        const next = b * size(at + 1) + h
        best = Math.min(best, steps[at + 1]![next]! + turn(at + 1, a, b, h) + backward[at + 1]![next]!)
      }
      return best
    })
  }
  const last = forward.at(-1)!
  const cost = last.reduce((least, one) => Math.min(least, one), Number.POSITIVE_INFINITY)
  const chosen: number[] = []
  for (let at = moments.length - 1, pair = last.indexOf(cost); at >= 0; at--) {
    chosen[at] = pair % size(at)
    const before = Math.floor(pair / size(at))
    pair = (from[at]![pair] ?? 0) * size(at - 1) + before
  }
  const through = moments.map((moment, at) =>
    moment.states.map((_, h) => {
      let best = Number.POSITIVE_INFINITY
      for (let b = 0; b < size(at - 1); b++)
        best = Math.min(best, forward[at]![b * size(at) + h]! + backward[at]![b * size(at) + h]!)
      return best
    }),
  )
  return { cost, chosen, through }
}

/**
 * Three notes of a line in a row: the hand has changed its position when the first and the last do not lie under their
 * fingers at once, or when a key comes back under another finger (the position-change rules of Parncutt and others
 * 1997, unchecked).
 */
function positionCost(
  { keys, reach }: Context,
  moments: readonly FingeredEvent[],
  at: number,
  a: number,
  b: number,
  h: number,
): number {
  const [first, middle, last] = [moments[at - 2]!, moments[at - 1]!, moments[at]!]
  if (first.struck.length !== 1 || middle.struck.length !== 1 || last.struck.length !== 1) return 0
  const [one, two, three] = [first.struck[0]!, middle.struck[0]!, last.struck[0]!]
  const f = first.states[a]![first.keys.indexOf(one)]!
  const m = middle.states[b]![middle.keys.indexOf(two)]!
  const g = last.states[h]![last.keys.indexOf(three)]!
  const interval = keys[three]! - keys[one]!
  if (interval === 0) return f === g ? 0 : EFFORT.positionChange
  if (f === g) return EFFORT.positionChange
  const [low, high, way] = f < g ? [f, g, interval] : [g, f, -interval]
  const span = spanOf(low, high, reach)
  if (way <= span.maxComfortable && way >= span.minComfortable) return 0
  const isBetween = (keys[two]! - keys[one]!) * (keys[three]! - keys[two]!) > 0
  const isFull = isBetween && m === 1 && (way > span.maxPractical || way < span.minPractical)
  return isFull ? EFFORT.fullPositionChange : EFFORT.positionChange
}

interface Context {
  notes: readonly FingerNote[]
  /** Pitches as for the right hand. */
  keys: readonly number[]
  black: readonly boolean[]
  reach: number
  pattern: readonly (FingerPreference | undefined)[]
}

/** The notes that begin at each moment, in order, from low keys to high. */
function struckTogether(notes: readonly FingerNote[], keys: readonly number[]): number[][] {
  const moments: number[][] = []
  notes.forEach((note, index) => {
    const last = moments.at(-1)
    if (last && note.onsetMs - notes[last[0]!]!.onsetMs < 1) last.push(index)
    else moments.push([index])
  })
  return moments.map(struck => struck.sort((a, b) => keys[a]! - keys[b]!))
}

function momentsOf(context: Context): FingeredEvent[] {
  const { notes, keys, reach } = context
  const moments: FingeredEvent[] = []
  let held: number[] = []
  for (const struck of struckTogether(notes, keys)) {
    const atMs = notes[Math.min(...struck)]!.onsetMs
    held = held.filter(note => notes[note]!.endMs > atMs + HELD_MS && !struck.some(one => keys[one] === keys[note]))
    // What cannot be held beside what is struck is let go, the oldest first (the pedal may keep it).
    while (
      held.length > 0 &&
      (held.length + struck.length > 5 || spread([...held, ...struck].map(note => keys[note]!)) > reach)
    )
      held.shift()
    const sounding = [...held, ...struck].sort((a, b) => keys[a]! - keys[b]!)
    const states = statesOf(context, sounding)
    moments.push({
      struck,
      keys: sounding,
      atMs,
      states,
      own: states.map(fingers => ownCost(context, sounding, struck, fingers)),
    })
    held = [...held, ...struck]
  }
  return moments
}

const spread = (list: readonly number[]): number => Math.max(...list) - Math.min(...list)

/** Every way to take these keys, fingers rising with them. Locked fingers are kept even where that breaks the order. */
function statesOf({ notes }: Context, sounding: readonly number[]): Finger[][] {
  const states: Finger[][] = []
  const extend = (fingers: Finger[]) => {
    if (fingers.length === sounding.length) {
      states.push(fingers)
      return
    }
    const place = fingers.length
    for (let finger = (fingers.at(-1) ?? 0) + 1; finger <= 5 - (sounding.length - place - 1); finger++) {
      const locked = notes[sounding[place]!]!.locked
      if (locked === undefined || locked === finger) extend([...fingers, finger as Finger])
    }
  }
  if (sounding.length <= 5) extend([])
  if (states.length > 0) return states
  // More keys than fingers, or locked fingers that cross: one way to take it all the same, so that the player sees what
  // is asked.
  const free = sounding.map(
    (note, place) =>
      notes[note]!.locked ??
      (Math.min(5, Math.max(1, 1 + Math.round((4 * place) / Math.max(1, sounding.length - 1)))) as Finger),
  )
  return [free]
}

/** What the fingers of one moment cost by themselves: weak fingers, black keys, the chord's stretches. */
function ownCost(
  { notes, keys, black, reach, pattern }: Context,
  sounding: readonly number[],
  struck: readonly number[],
  fingers: readonly Finger[],
): number {
  let cost = 0
  sounding.forEach((note, place) => {
    if (!struck.includes(note)) return
    const finger = fingers[place]!
    const wish = pattern[note]
    if (wish && wish.finger !== finger) cost += wish.cost
    if (struck.length === 1) cost += EFFORT.weak[finger] ?? 0
    const share = struck.length === 1 ? 1 : EFFORT.blackInChord
    if (black[note] && finger === 1) cost += EFFORT.thumbOnBlack * share
    if (black[note] && finger === 5) cost += EFFORT.fiveOnBlack * share
  })
  if (struck.length > 2 && struck.length === sounding.length) {
    const [own, pitches] = [sounding.map(note => keys[note]!), sounding.map(note => notes[note]!.pitch)]
    cost +=
      EFFORT.offShape * Math.max(0, shapeDeviation(own, pitches, fingers) - (shapeOf(own, pitches)?.off ?? 0)) +
      (own.at(-1)! - own[0]! >= 6 ? (5 - fingers.at(-1)! + fingers[0]! - 1) * EFFORT.idleTop : 0)
  }
  for (let low = 0; low < sounding.length; low++) {
    for (let high = low + 1; high < sounding.length; high++) {
      cost += chordSpanCost(keys[sounding[high]!]! - keys[sounding[low]!]!, fingers[low]!, fingers[high]!, reach)
    }
  }
  return cost
}

/** Two keys down at once. */
function chordSpanCost(interval: number, low: Finger, high: Finger, reach: number): number {
  if (low >= high) return EFFORT.beyondReach
  const span = spanOf(low, high, reach)
  if (interval > span.maxPractical || interval < Math.max(1, span.minPractical)) return EFFORT.beyondReach
  const over = Math.max(0, interval - span.maxComfortable, span.minComfortable - interval)
  const off = Math.max(0, interval - span.maxRelaxed, span.minRelaxed - interval)
  return over * EFFORT.stretch + off * 0.5
}

function startCost({ keys }: Context, [first, second]: readonly FingeredEvent[], state: number): number {
  const goesOutward =
    first!.struck.length === 1 && second?.struck.length === 1 && keys[second.struck[0]!]! > keys[first!.struck[0]!]!
  return goesOutward ? (first!.states[state]![0]! - 1) * EFFORT.start : 0
}

function transition(context: Context, before: FingeredEvent, b: number, here: FingeredEvent, h: number): number {
  const [was, is] = [before.states[b]!, here.states[h]!]
  let cost = 0
  for (let place = 0; place < here.keys.length; place++) {
    const note = here.keys[place]!
    const old = before.keys.indexOf(note)
    if (old >= 0 && was[old] !== is[place]) cost += EFFORT.substitution
  }
  if (before.struck.length === 1 && here.struck.length === 1) {
    const [from, to] = [before.struck[0]!, here.struck[0]!]
    return (
      cost +
      stepCost(context, from, was[before.keys.indexOf(from)]!, to, is[here.keys.indexOf(to)]!, here.atMs - before.atMs)
    )
  }
  let shared = 0
  for (const note of here.struck) {
    const again = before.struck.find(one => context.keys[one] === context.keys[note])
    if (again === undefined) continue
    shared++
    if (was[before.keys.indexOf(again)] !== is[here.keys.indexOf(note)]) cost += EFFORT.change
  }
  const moved = Math.abs(handPosition(context, here, is) - handPosition(context, before, was))
  const sameFingerOtherKey =
    shared === 0
      ? 0
      : here.struck.filter(note =>
          before.struck.some(
            one =>
              context.keys[one] !== context.keys[note] && was[before.keys.indexOf(one)] === is[here.keys.indexOf(note)],
          ),
        ).length
  return cost + Math.min(12, moved) * EFFORT.chordShift + sameFingerOtherKey * 0.3
}

/** Where the thumb would lie: each finger's key less its place at rest. */
function handPosition({ keys }: Context, moment: FingeredEvent, fingers: readonly Finger[]): number {
  return moment.keys.reduce((sum, note, place) => sum + keys[note]! - AT_REST[fingers[place]!], 0) / moment.keys.length
}

/** From one key to the next in a line. */
function stepCost({ keys, black, reach }: Context, from: number, f: Finger, to: number, g: Finger, ms: number): number {
  const interval = keys[to]! - keys[from]!
  if (interval === 0) return f === g ? (ms < EFFORT.hurriedMs ? EFFORT.hurriedRepeat : 0) : EFFORT.change
  let cost = Math.abs(interval) <= EFFORT.besideHalfSteps ? besideWhite(black[from]!, f, black[to]!, g) : 0
  if ((f === 3 && g === 4) || (f === 4 && g === 3))
    cost += EFFORT.threeFour + (black[f === 4 ? from : to] ? EFFORT.fourOnBlack : 0)
  if (f === g)
    return (
      cost +
      (Math.abs(interval) <= 5
        ? EFFORT.sameFinger
        : EFFORT.shiftAtAll + EFFORT.shift * Math.min(12, Math.abs(interval)))
    )
  const [low, high, way] = f < g ? [f, g, interval] : [g, f, -interval]
  const span = spanOf(low, high, reach)
  const passes = low === 1 && way < 0 && high < 5 && way >= -EFFORT.farthestPass
  if (!passes && (way > span.maxPractical || way < span.minPractical))
    return cost + EFFORT.shiftAtAll + EFFORT.shift * Math.min(12, Math.abs(interval))
  const over = Math.max(0, way - span.maxComfortable, span.minComfortable - way)
  if (low === 1 && way < 0) {
    const [thumb, finger] = f === 1 ? [from, to] : [to, from]
    const level = black[thumb]
      ? black[finger]
        ? EFFORT.passLevel
        : EFFORT.passToBlack + EFFORT.passLevel
      : black[finger]
        ? EFFORT.passBlackToWhite
        : EFFORT.passLevel
    return cost + level + (EFFORT.passWith[high] ?? 0) + over * (EFFORT.farPass[high] ?? 0)
  }
  const off = Math.max(0, way - span.maxRelaxed, span.minRelaxed - way)
  return cost + over * EFFORT.stretch + off * (low === 1 ? EFFORT.spanThumb : EFFORT.spanOther)
}

function besideWhite(fromBlack: boolean, f: Finger, toBlack: boolean, g: Finger): number {
  if (fromBlack === toBlack) return 0
  const onBlack = fromBlack ? f : g
  return onBlack === 1 || onBlack === 5 ? EFFORT.besideWhite : 0
}

function eventsOf(context: Context, moments: readonly FingeredEvent[], chosen: readonly number[]): FingeringEvent[] {
  const { notes, keys, reach } = context
  const events: FingeringEvent[] = []
  moments.forEach((moment, at) => {
    const is = moment.states[chosen[at]!]!
    const fingerOf = (note: number) => is[moment.keys.indexOf(note)]!
    for (let low = 0; low < moment.keys.length; low++) {
      for (let high = low + 1; high < moment.keys.length; high++) {
        const interval = keys[moment.keys[high]!]! - keys[moment.keys[low]!]!
        const note = moment.struck.includes(moment.keys[high]!) ? moment.keys[high]! : moment.keys[low]!
        if (is[low]! >= is[high]!)
          events.push({ kind: 'impossible', id: notes[note]!.id, finger: fingerOf(note), from: is[low] })
        else {
          const span = spanOf(is[low]!, is[high]!, reach)
          if (interval > span.maxPractical)
            events.push({
              kind: 'beyond-reach',
              id: notes[note]!.id,
              finger: fingerOf(note),
              from: is[low],
              halfSteps: interval,
            })
          else if (interval > span.maxComfortable && moment.struck.includes(note))
            events.push({
              kind: 'stretch',
              id: notes[note]!.id,
              finger: fingerOf(note),
              from: is[low],
              halfSteps: interval,
            })
        }
      }
    }
    const before = moments[at - 1]
    if (!before) return
    const was = before.states[chosen[at - 1]!]!
    moment.keys.forEach((note, place) => {
      const old = before.keys.indexOf(note)
      if (old >= 0 && was[old] !== is[place])
        events.push({ kind: 'substitution', id: notes[note]!.id, finger: is[place]!, from: was[old] })
    })
    if (before.struck.length === 1 && moment.struck.length === 1) {
      const [from, to] = [before.struck[0]!, moment.struck[0]!]
      const [f, g] = [was[before.keys.indexOf(from)]!, fingerOf(to)]
      const interval = keys[to]! - keys[from]!
      const [low, high, way] = f < g ? [f, g, interval] : [g, f, -interval]
      const span = f === g ? undefined : spanOf(low, high, reach)
      const base = { id: notes[to]!.id, finger: g, from: f, halfSteps: Math.abs(interval) }
      if (interval === 0) {
        if (f !== g) events.push({ ...base, kind: 'repeated-note' })
      } else if (low === 1 && high < 5 && way < 0 && way >= -EFFORT.farthestPass)
        events.push({ ...base, kind: 'crossing' })
      else if (!span || way > span.maxPractical || way < span.minPractical)
        events.push({ ...base, kind: 'position-change' })
      else if (way > span.maxComfortable) events.push({ ...base, kind: 'stretch' })
    } else if (Math.abs(handPosition(context, moment, is) - handPosition(context, before, was)) > 4) {
      const note = moment.struck[0]!
      events.push({
        kind: 'position-change',
        id: notes[note]!.id,
        finger: fingerOf(note),
        halfSteps: Math.round(Math.abs(handPosition(context, moment, is) - handPosition(context, before, was))),
      })
    }
  })
  return events
}

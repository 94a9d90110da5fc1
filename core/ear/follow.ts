import { bisectLeft } from 'd3-array'
import type { Hand } from '../music/arrangement'
import type { ScoreEvent } from './score-events'
import { createHistory, createHypotheses, NO_SHIFT, type FollowedStroke } from './hypotheses'
import { countBits, indexByKey, keySetHas, keySets } from './key-sets'
import type { FollowingParameters } from './parameters'
import { NO_REPEAT_JUMPS, type RepeatJumps } from './repeat-jumps'

export interface FollowRequest {
  events: readonly ScoreEvent[]
  /** Jumps that a different count of repeats would make. */
  turns?: RepeatJumps
  /** Sorted by onset. */
  strokes: readonly { onsetMs: number; pitch: number }[]
  /** With a click: event times are on the strokes' own clock. Without: tempo and start are found. */
  steady: boolean
  beatMs: number
  following: FollowingParameters
}

const MATCH = 0
const WRONG = 1
const EXTRA = 2
const BEFORE = -1
/**
 * With more hypotheses than this the player is lost, and a tighter threshold applies, which bounds the work for a
 * stroke.
 */
const MAX_BEAM = 64
/** Keys of one event that are told apart; a hand has five fingers. */
const MAX_KEY_BITS = 30

/**
 * Follows a player through the score: the most plausible path of the strokes through the score events. A Viterbi
 * decoding of a hidden Markov model in the manner of score followers that allow for errors, repeats and skips (Nakamura
 * et al. 2014 and 2017, unchecked): each hypothesis holds the place, the keys of its chord already struck and the tempo
 * heard so far; a stroke stays in its chord, moves on, skips a little, or jumps. Costs are negative log probabilities
 * up to a constant. The work for a stroke depends on the size of the beam, so it is linear in the length of the take.
 */
export function follow(request: FollowRequest): FollowedStroke[] {
  const { strokes } = request
  if (request.events.length === 0) return strokes.map(() => ({ event: BEFORE, kind: 'extra', jumped: false }))
  const follower = createFollower(request)
  for (const { pitch, onsetMs } of strokes) follower.advance(pitch, onsetMs)
  return follower.bestPath(true)
}

/** The distance penalty of a jump over a number of events: people start again near where they stopped. */
export const jumpDistancePenalty = (cost: FollowingParameters, events: number): number =>
  cost.jumpDistance * Math.log2(1 + Math.abs(events) / 4)

/** Creates a follower that is fed one stroke at a time. */
export function createFollower({
  events,
  turns = NO_REPEAT_JUMPS,
  steady,
  beatMs,
  following: cost,
}: Omit<FollowRequest, 'strokes'>) {
  const count = events.length
  const eventMs = Float64Array.from(events, ({ atMs }) => atMs)
  /** Keys to be struck; one that two voices share counts once. */
  const keysOf = Int32Array.from(events, ({ pitches }) => new Set(pitches).size)
  const missedPenalty = Float64Array.from(keysOf, many => Math.min(cost.missedEvent, cost.missed * many))
  const index = indexByKey(events)
  const keys = keySets(events, ({ pitches }) => pitches)
  const freeKeys = keySets(events, ({ free }) => free)
  const tiedKeys = keySets(events, ({ tied }) => tied)
  let now = createHypotheses(2 * count + 2)
  let next = createHypotheses(2 * count + 2)
  const distances = Float64Array.from({ length: cost.jumpEvents + 1 }, (_, far) => jumpDistancePenalty(cost, far))
  const slotOf = new Int32Array(2 * count + 2)
  const stampOf = new Int32Array(2 * count + 2).fill(-1)
  let strokes = 0
  /** Hypotheses costlier than this are pruned. */
  let pruneAbove = 0
  const history = createHistory()
  now.size = 1
  now.event[0] = BEFORE
  now.ratio[0] = 1
  now.shift[0] = NO_SHIFT

  /** Records a hypothesis if it is the cheapest for its place. Returns its slot, or -1. */
  const recordHypothesis = (
    event: number,
    price: number,
    from: number,
    matched: number,
    kind: number,
    jumped: boolean,
  ): number => {
    if (price > pruneAbove) return -1
    const parity = jumped ? 1 - now.parity[from]! : now.parity[from]!
    const place = 2 * event + 2 + parity
    let slot = slotOf[place]!
    if (stampOf[place] !== strokes) {
      stampOf[place] = strokes
      slot = slotOf[place] = next.size++
      history.grow(next.size)
    } else if (next.cost[slot]! <= price) return -1
    next.event[slot] = event
    next.parity[slot] = parity
    next.cost[slot] = price
    history.set(slot, from, matched, kind, jumped)
    return slot
  }

  /** Timing penalty, capped because players stop and start. */
  const timingPenalty = (offMs: number, scaleMs: number): number => {
    const off = offMs / scaleMs
    return (cost.time * off * off) / (off * off + 2)
  }

  const newRatio = (from: number, takeMs: number, scoreMs: number): number => {
    const old = now.ratio[from]!
    if (scoreMs < 20) return old
    const heard = now.heard[from]!
    const reach = heard < 2 ? 4 : 1.6
    const seen = Math.min(old * reach, Math.max(old / reach, takeMs / scoreMs))
    const weight = (steady ? 0.12 : Math.max(0.2, 1 / (heard + 1))) * Math.min(1, scoreMs / (0.5 * beatMs))
    return old + weight * (seen - old)
  }

  // The wrong key priced last: the note it is meant for, and its distance.
  let wrongBit = -1
  let wrongShift = 0
  const priceOfWrong = (event: number, pitch: number, struck: number, from: number): number => {
    const { pitches, hands } = events[event]!
    const shift = now.shift[from]!
    const shiftHand = now.shiftIsLeft[from] === 1 ? 'left' : 'right'
    let cheapest = Infinity
    for (let bit = 0; bit < pitches.length && bit < MAX_KEY_BITS; bit++) {
      if (struck & (1 << bit)) continue
      const off = pitch - pitches[bit]!
      const far = Math.abs(off)
      // A hand one white key off is one or two half steps off.
      const isSame =
        hands[bit] === shiftHand &&
        shift !== NO_SHIFT &&
        (off === shift || (off * shift > 0 && far <= 2 && Math.abs(shift) <= 2))
      const price = isSame
        ? cost.sameShift
        : far <= 2 || far % 12 === 0
          ? cost.wrongNear
          : far <= 7
            ? cost.wrongFar
            : cost.wrongFar + 0.7
      if (price >= cheapest) continue
      cheapest = price
      wrongBit = bit
      wrongShift = Math.max(-126, Math.min(126, off))
    }
    return cheapest
  }

  /** The displacement after a right key: cleared if it was that hand's. */
  const shiftAfter = (from: number, hand: Hand) =>
    (now.shiftIsLeft[from] === 1) === (hand === 'left') ? NO_SHIFT : now.shift[from]!

  const recordStay = (
    from: number,
    added: number,
    matched: number,
    kind: number,
    struck: number,
    shift: number,
    isLeft = now.shiftIsLeft[from]!,
  ) => {
    const slot = recordHypothesis(now.event[from]!, now.cost[from]! + added, from, matched, kind, false)
    if (slot < 0) return
    next.enteredMs[slot] = now.enteredMs[from]!
    next.ratio[slot] = now.ratio[from]!
    next.lagMs[slot] = now.lagMs[from]!
    next.heard[slot] = now.heard[from]!
    next.struck[slot] = struck
    next.shift[slot] = shift
    next.shiftIsLeft[slot] = isLeft
    next.tries[slot] = kind === EXTRA ? 1 : 0
  }

  const stayInEvent = (from: number, pitch: number, atMs: number) => {
    const event = now.event[from]!
    const struck = now.struck[from]!
    if (event === BEFORE) return recordStay(from, cost.extra * cost.prestartFactor, BEFORE, EXTRA, 0, NO_SHIFT)
    const late = timingPenalty(Math.max(0, atMs - now.enteredMs[from]!), cost.chordMs)
    if (keySetHas(keys, event, pitch)) {
      const { pitches, hands } = events[event]!
      for (let bit = 0; bit < pitches.length; bit++) {
        if (pitches[bit] !== pitch || (bit < MAX_KEY_BITS && struck & (1 << bit))) continue
        return recordStay(
          from,
          late,
          event,
          MATCH,
          bit < MAX_KEY_BITS ? struck | (1 << bit) : struck,
          shiftAfter(from, hands[bit]!),
        )
      }
    }
    recordStay(
      from,
      keySetHas(freeKeys, event, pitch)
        ? cost.ornament
        : keySetHas(tiedKeys, event, pitch)
          ? cost.restruck
          : now.tries[from] === 1
            ? cost.extraMore
            : cost.extra,
      event,
      EXTRA,
      struck,
      now.shift[from]!,
    )
    const ratio = now.ratio[from]!
    for (let back = 1; back <= cost.lateEvents && back <= event; back++) {
      if (!keySetHas(keys, event - back, pitch)) continue
      const behindMs = atMs - now.enteredMs[from]! + (eventMs[event]! - eventMs[event - back]!) * ratio
      recordStay(
        from,
        cost.late + timingPenalty(behindMs, cost.lateBeats * beatMs * ratio),
        event - back,
        MATCH,
        struck,
        now.shift[from]!,
      )
    }
    if (now.cost[from]! + late + Math.min(cost.sameShift, cost.wrongNear) > pruneAbove) return
    const wrong = priceOfWrong(event, pitch, struck, from)
    if (wrong < Infinity)
      recordStay(
        from,
        wrong + late,
        event,
        WRONG,
        struck | (1 << wrongBit),
        wrongShift,
        events[event]!.hands[wrongBit] === 'left' ? 1 : 0,
      )
  }

  const enterEvent = (from: number, event: number, price: number, pitch: number, atMs: number, jumped: boolean) => {
    const isMatch = keySetHas(keys, event, pitch)
    const here = isMatch ? price : price + priceOfWrong(event, pitch, 0, from)
    const origin = now.event[from]!
    const goesOn = origin !== BEFORE && !jumped
    let behindMs = 0
    let lagMs = 0
    let click = 0
    if (steady) {
      behindMs = atMs - eventMs[event]!
      // After a jump the player may be anywhere against the click, most likely together with it.
      lagMs = !jumped ? now.lagMs[from]! : Math.abs(behindMs) > 0.5 * beatMs ? behindMs : 0
      const off = (behindMs - lagMs) / (cost.clickBeats * beatMs)
      click = (cost.click * off * off) / (1 + off * off)
      // After a stop or a lost beat the player continues with that lag; it is paid for once.
      if (!jumped && Math.abs(behindMs - lagMs) > 0.5 * beatMs) lagMs = behindMs
    }
    const slot = recordHypothesis(event, here + click, from, event, isMatch ? MATCH : WRONG, jumped)
    if (slot < 0) return
    next.enteredMs[slot] = atMs
    next.ratio[slot] = goesOn
      ? newRatio(from, atMs - now.enteredMs[from]!, eventMs[event]! - eventMs[origin]!)
      : now.ratio[from]!
    next.lagMs[slot] = lagMs + cost.lagShare * (behindMs - lagMs)
    next.heard[slot] = Math.min(1000, now.heard[from]! + (goesOn ? 1 : 0))
    const bit = isMatch ? events[event]!.pitches.indexOf(pitch) : wrongBit
    next.struck[slot] = bit < MAX_KEY_BITS ? 1 << bit : 0
    const hand = events[event]!.hands[bit]!
    next.shift[slot] = isMatch ? shiftAfter(from, hand) : wrongShift
    next.shiftIsLeft[slot] = isMatch ? now.shiftIsLeft[from]! : hand === 'left' ? 1 : 0
    next.tries[slot] = 0
  }

  const stepForward = (from: number, pitch: number, atMs: number) => {
    const event = now.event[from]!
    let price = now.cost[from]!
    if (event !== BEFORE)
      price += Math.min(cost.missedEvent, cost.missed * Math.max(0, keysOf[event]! - countBits(now.struck[from]!)))
    const leaving = price
    const doubt = steady ? 1 : 1 + 3 / (1 + now.heard[from]!)
    const last = Math.min(count - 1, event + cost.reachEvents)
    const leastWrong = now.shift[from] === NO_SHIFT ? cost.wrongNear : cost.sameShift
    for (let to = event + 1; to <= last && price <= pruneAbove; to++) {
      let here = price
      if (event !== BEFORE) {
        const dueMs = (eventMs[to]! - eventMs[event]!) * now.ratio[from]!
        const off = (atMs - now.enteredMs[from]! - dueMs) / ((cost.timeMs + cost.timeShare * dueMs) * doubt)
        // While searching for a key, lateness is penalised less.
        here +=
          ((off > 0 && now.tries[from] === 1 ? cost.timePenaltyAfterTrial : cost.time) * off * off) / (off * off + 2)
      }
      // Most steps forward exceed the threshold; seeing it here is much cheaper than entering the event.
      if (here + (keySetHas(keys, to, pitch) ? 0 : leastWrong) <= pruneAbove)
        enterEvent(from, to, here, pitch, atMs, false)
      price += missedPenalty[to]!
    }
    for (const to of turns.get(event) ?? [])
      if (keySetHas(keys, to, pitch)) enterEvent(from, to, leaving + cost.repeatJump, pitch, atMs, true)
  }

  const jumpElsewhere = (from: number, pitch: number, atMs: number) => {
    const event = now.event[from]!
    const places = index.get(pitch)
    if (!places) return
    const paused = event !== BEFORE && atMs - now.enteredMs[from]! > cost.pauseBeats * beatMs * now.ratio[from]!
    const price = now.cost[from]! + (event === BEFORE ? cost.jumpIn : paused ? cost.jumpAfterPause : cost.jump)
    for (
      let at = bisectLeft(places, event - cost.jumpEvents);
      at < places.length && places[at]! <= event + cost.jumpEvents;
      at++
    ) {
      const to = places[at]!
      const there =
        price +
        distances[Math.abs(to - event)]! -
        (to === 0 ? cost.fromTheTop : events[to]!.startsBar ? cost.fromTheBar : 0)
      if (to !== event + 1 && there <= pruneAbove) enterEvent(from, to, there, pitch, atMs, true)
    }
  }

  const lowestCost = (): number => {
    let price = Infinity
    for (let one = 0; one < next.size; one++) if (next.cost[one]! < price) price = next.cost[one]!
    return price
  }

  const likeliest = (): number => {
    let at = 0
    for (let one = 1; one < now.size; one++) if (now.cost[one]! < now.cost[at]!) at = one
    return at
  }

  /** The cheapest hypothesis at the end of a take: the few notes left were not played. */
  const likeliestAtEnd = (): number => {
    const leftOf = (one: number) => {
      const event = now.event[one]!
      let left =
        event === BEFORE
          ? 0
          : Math.min(cost.missedEvent, cost.missed * Math.max(0, keysOf[event]! - countBits(now.struck[one]!)))
      for (let next = event + 1; next < count && left < cost.missedEvent; next++) left += missedPenalty[next]!
      return Math.min(left, cost.missedEvent)
    }
    let at = 0
    for (let one = 1; one < now.size; one++) if (now.cost[one]! + leftOf(one) < now.cost[at]! + leftOf(at)) at = one
    return at
  }

  return {
    /** Takes one stroke. Strokes come in order of time. */
    advance(pitch: number, atMs: number): void {
      next.size = 0
      history.begin()
      const favourite = likeliest()
      pruneAbove = now.cost[favourite]! + (now.size > MAX_BEAM ? cost.pruneMany : cost.prune)
      for (let from = 0; from < now.size; from++) {
        if (now.cost[from]! > pruneAbove) continue
        stayInEvent(from, pitch, atMs)
        stepForward(from, pitch, atMs)
      }
      if (lowestCost() > now.cost[favourite]! + cost.jumpThreshold) jumpElsewhere(favourite, pitch, atMs)
      strokes++
      ;[now, next] = [next, now]
    },
    /** The likeliest place: the last event reached, or -1. */
    place: (): number => now.event[likeliest()]!,
    /** The likeliest reading of the newest stroke. */
    newest: (): FollowedStroke => history.at(strokes - 1, likeliest()),
    /**
     * The most plausible path of all strokes so far; for a finished take, a player who was nearly at the end most
     * likely reached it.
     */
    bestPath: (isOver = false): FollowedStroke[] => history.back(strokes, isOver ? likeliestAtEnd() : likeliest()),
  }
}

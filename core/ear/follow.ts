import { bisectLeft } from 'd3-array'
import type { Hand } from '../music/arrangement'
import type { Moment } from './moments'
import type { FollowingParameters } from './parameters'
import { NO_TURNS, type Turns } from './repeats'

/** Where one stroke stands in the score. */
export interface Step {
  /** Index of the moment it belongs to; -1 for a stroke before the music began. */
  moment: number
  /** `match`: one of the moment's keys; `wrong`: stands for one of them; `extra`: stands for nothing. */
  kind: 'match' | 'wrong' | 'extra'
  /** The player went on from another place than the one reached: back for a restart, or forward over a gap. */
  jumped: boolean
}

export interface FollowRequest {
  moments: readonly Moment[]
  /** Where repeats may be counted otherwise. */
  turns?: Turns
  /** Sorted by onset. */
  strokes: readonly { onsetMs: number; pitch: number }[]
  /** With a click: the moments' times are the strokes' own clock. Without: tempo and start are found. */
  steady: boolean
  beatMs: number
  following: FollowingParameters
}

const MATCH = 0
const WRONG = 1
const EXTRA = 2
const KINDS = ['match', 'wrong', 'extra'] as const
const BEFORE = -1
const NO_SHIFT = 127
/**
 * With more beliefs than this the player is lost, and only the likelier ones are kept: the work for a stroke is
 * bounded.
 */
const MANY_BELIEFS = 64
/** Keys of one moment that are told apart; the keyboard has 88 and a hand five fingers. */
const MOST_BITS = 30

/**
 * Follows a player through the score: the most plausible way of the strokes through the moments. A Viterbi decoding of
 * a hidden Markov model in the manner of score followers that allow for errors, repeats and skips (Nakamura et al. 2014
 * and 2017, from memory): each belief carries the place, the keys of its chord already struck and the tempo it has
 * heard; a stroke stays in its chord, moves on, skips a little, or jumps. Costs are negative log probabilities up to a
 * constant. The work for a stroke depends on the beliefs worth keeping, so it is linear in the length of the take.
 */
export function follow(request: FollowRequest): Step[] {
  const { strokes } = request
  if (request.moments.length === 0) return strokes.map(() => ({ moment: BEFORE, kind: 'extra', jumped: false }))
  const follower = createFollower(request)
  for (const { pitch, onsetMs } of strokes) follower.advance(pitch, onsetMs)
  return follower.way(true)
}

/** What a jump over so many moments costs beyond its own price: people take up again near where they stopped. */
export const distancePrice = (cost: FollowingParameters, moments: number): number =>
  cost.jumpDistance * Math.log2(1 + Math.abs(moments) / 4)

/**
 * What is believed after some strokes: where the player is, and what it costs to believe it. Arrays of the same length.
 */
interface Beliefs {
  size: number
  moment: Int32Array
  cost: Float64Array
  /** When the first stroke of the moment fell. */
  enteredMs: Float64Array
  /** Take ms for one score ms, as heard lately. */
  ratio: Float64Array
  /** With a click: how far behind it the player goes on, having stopped or hesitated, ms. */
  lagMs: Float64Array
  /** How many moments the ratio rests on. */
  heard: Uint16Array
  /** Which of the moment's keys have been struck, a bit each. */
  struck: Int32Array
  /**
   * Jumps so far, odd or even: one who has just taken up again at a place is not confused with one who lingers there.
   */
  parity: Uint8Array
  /**
   * How far the last wrong key lay from its note, and of which hand it was; NO_SHIFT when that hand has struck a right
   * one since.
   */
  shift: Int8Array
  shiftIsLeft: Uint8Array
  /** Whether the last stroke stood for nothing: who tries out keys tries out several. */
  tries: Uint8Array
}

const beliefs = (capacity: number): Beliefs => ({
  size: 0,
  moment: new Int32Array(capacity),
  cost: new Float64Array(capacity),
  enteredMs: new Float64Array(capacity),
  ratio: new Float64Array(capacity),
  lagMs: new Float64Array(capacity),
  heard: new Uint16Array(capacity),
  struck: new Int32Array(capacity),
  parity: new Uint8Array(capacity),
  shift: new Int8Array(capacity),
  shiftIsLeft: new Uint8Array(capacity),
  tries: new Uint8Array(capacity),
})

/** A follower that takes one stroke after the other. */
export function createFollower({
  moments,
  turns = NO_TURNS,
  steady,
  beatMs,
  following: cost,
}: Omit<FollowRequest, 'strokes'>) {
  const count = moments.length
  const momentMs = Float64Array.from(moments, ({ atMs }) => atMs)
  /** Keys to be struck: one that two voices share counts once. */
  const keysOf = Int32Array.from(moments, ({ pitches }) => new Set(pitches).size)
  const absence = Float64Array.from(keysOf, many => Math.min(cost.missedMoment, cost.missed * many))
  const index = indexByKey(moments)
  const keys = keySets(moments, ({ pitches }) => pitches)
  const freeKeys = keySets(moments, ({ free }) => free)
  const tiedKeys = keySets(moments, ({ tied }) => tied)
  let now = beliefs(2 * count + 2)
  let next = beliefs(2 * count + 2)
  const distances = Float64Array.from({ length: cost.jumpMoments + 1 }, (_, far) => distancePrice(cost, far))
  const slotOf = new Int32Array(2 * count + 2)
  const stampOf = new Int32Array(2 * count + 2).fill(-1)
  let strokes = 0
  /** Nothing dearer than this is worth noting down. */
  let limit = 0
  const history = createHistory()
  now.size = 1
  now.moment[0] = BEFORE
  now.ratio[0] = 1
  now.shift[0] = NO_SHIFT

  /** Notes down a belief, if it is the cheapest about its place. Answers with its slot, or -1. */
  const note = (
    moment: number,
    price: number,
    from: number,
    matched: number,
    kind: number,
    jumped: boolean,
  ): number => {
    if (price > limit) return -1
    const parity = jumped ? 1 - now.parity[from]! : now.parity[from]!
    const place = 2 * moment + 2 + parity
    let slot = slotOf[place]!
    if (stampOf[place] !== strokes) {
      stampOf[place] = strokes
      slot = slotOf[place] = next.size++
      history.grow(next.size)
    } else if (next.cost[slot]! <= price) return -1
    next.moment[slot] = moment
    next.parity[slot] = parity
    next.cost[slot] = price
    history.set(slot, from, matched, kind, jumped)
    return slot
  }

  /** What time says against `offMs` where `scaleMs` is usual. Bounded: people stop. */
  const against = (offMs: number, scaleMs: number): number => {
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

  // The wrong key last priced: which note it stands for, and how far from it it lies.
  let wrongBit = -1
  let wrongShift = 0
  const priceOfWrong = (moment: number, pitch: number, struck: number, from: number): number => {
    const { pitches, hands } = moments[moment]!
    const shift = now.shift[from]!
    const shiftHand = now.shiftIsLeft[from] === 1 ? 'left' : 'right'
    let best = Infinity
    for (let bit = 0; bit < pitches.length && bit < MOST_BITS; bit++) {
      if (struck & (1 << bit)) continue
      const off = pitch - pitches[bit]!
      const far = Math.abs(off)
      // A hand that lies one white key off is one or two half steps off.
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
      if (price >= best) continue
      best = price
      wrongBit = bit
      wrongShift = Math.max(-126, Math.min(126, off))
    }
    return best
  }

  /** The shift after a right key of a hand: gone if it was that hand's. */
  const shiftAfter = (from: number, hand: Hand) =>
    (now.shiftIsLeft[from] === 1) === (hand === 'left') ? NO_SHIFT : now.shift[from]!

  const keep = (
    from: number,
    added: number,
    matched: number,
    kind: number,
    struck: number,
    shift: number,
    isLeft = now.shiftIsLeft[from]!,
  ) => {
    const slot = note(now.moment[from]!, now.cost[from]! + added, from, matched, kind, false)
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

  const stay = (from: number, pitch: number, atMs: number) => {
    const moment = now.moment[from]!
    const struck = now.struck[from]!
    if (moment === BEFORE) return keep(from, cost.extra * cost.noodleShare, BEFORE, EXTRA, 0, NO_SHIFT)
    const late = against(Math.max(0, atMs - now.enteredMs[from]!), cost.chordMs)
    if (has(keys, moment, pitch)) {
      const { pitches, hands } = moments[moment]!
      for (let bit = 0; bit < pitches.length; bit++) {
        if (pitches[bit] !== pitch || (bit < MOST_BITS && struck & (1 << bit))) continue
        return keep(
          from,
          late,
          moment,
          MATCH,
          bit < MOST_BITS ? struck | (1 << bit) : struck,
          shiftAfter(from, hands[bit]!),
        )
      }
    }
    keep(
      from,
      has(freeKeys, moment, pitch)
        ? cost.ornament
        : has(tiedKeys, moment, pitch)
          ? cost.restruck
          : now.tries[from] === 1
            ? cost.extraMore
            : cost.extra,
      moment,
      EXTRA,
      struck,
      now.shift[from]!,
    )
    const ratio = now.ratio[from]!
    for (let back = 1; back <= cost.lateMoments && back <= moment; back++) {
      if (!has(keys, moment - back, pitch)) continue
      const behindMs = atMs - now.enteredMs[from]! + (momentMs[moment]! - momentMs[moment - back]!) * ratio
      keep(
        from,
        cost.late + against(behindMs, cost.lateBeats * beatMs * ratio),
        moment - back,
        MATCH,
        struck,
        now.shift[from]!,
      )
    }
    if (now.cost[from]! + late + Math.min(cost.sameShift, cost.wrongNear) > limit) return
    const wrong = priceOfWrong(moment, pitch, struck, from)
    if (wrong < Infinity)
      keep(
        from,
        wrong + late,
        moment,
        WRONG,
        struck | (1 << wrongBit),
        wrongShift,
        moments[moment]!.hands[wrongBit] === 'left' ? 1 : 0,
      )
  }

  const enter = (from: number, moment: number, price: number, pitch: number, atMs: number, jumped: boolean) => {
    const isMatch = has(keys, moment, pitch)
    const here = isMatch ? price : price + priceOfWrong(moment, pitch, 0, from)
    const origin = now.moment[from]!
    const goesOn = origin !== BEFORE && !jumped
    let behindMs = 0
    let lagMs = 0
    let click = 0
    if (steady) {
      behindMs = atMs - momentMs[moment]!
      // Taken up again, the player may be anywhere against the click, but is likeliest to have fallen in with it.
      lagMs = !jumped ? now.lagMs[from]! : Math.abs(behindMs) > 0.5 * beatMs ? behindMs : 0
      const off = (behindMs - lagMs) / (cost.clickBeats * beatMs)
      click = (cost.click * off * off) / (1 + off * off)
      // Who has stopped, or lost a beat, goes on so far behind; to find that out once is enough.
      if (!jumped && Math.abs(behindMs - lagMs) > 0.5 * beatMs) lagMs = behindMs
    }
    const slot = note(moment, here + click, from, moment, isMatch ? MATCH : WRONG, jumped)
    if (slot < 0) return
    next.enteredMs[slot] = atMs
    next.ratio[slot] = goesOn
      ? newRatio(from, atMs - now.enteredMs[from]!, momentMs[moment]! - momentMs[origin]!)
      : now.ratio[from]!
    next.lagMs[slot] = lagMs + cost.lagShare * (behindMs - lagMs)
    next.heard[slot] = Math.min(1000, now.heard[from]! + (goesOn ? 1 : 0))
    const bit = isMatch ? moments[moment]!.pitches.indexOf(pitch) : wrongBit
    next.struck[slot] = bit < MOST_BITS ? 1 << bit : 0
    const hand = moments[moment]!.hands[bit]!
    next.shift[slot] = isMatch ? shiftAfter(from, hand) : wrongShift
    next.shiftIsLeft[slot] = isMatch ? now.shiftIsLeft[from]! : hand === 'left' ? 1 : 0
    next.tries[slot] = 0
  }

  const goOn = (from: number, pitch: number, atMs: number) => {
    const moment = now.moment[from]!
    let price = now.cost[from]!
    if (moment !== BEFORE)
      price += Math.min(cost.missedMoment, cost.missed * Math.max(0, keysOf[moment]! - ones(now.struck[from]!)))
    const leaving = price
    const doubt = steady ? 1 : 1 + 3 / (1 + now.heard[from]!)
    const last = Math.min(count - 1, moment + cost.reachMoments)
    const leastWrong = now.shift[from] === NO_SHIFT ? cost.wrongNear : cost.sameShift
    for (let to = moment + 1; to <= last && price <= limit; to++) {
      let here = price
      if (moment !== BEFORE) {
        const dueMs = (momentMs[to]! - momentMs[moment]!) * now.ratio[from]!
        const off = (atMs - now.enteredMs[from]! - dueMs) / ((cost.timeMs + cost.timeShare * dueMs) * doubt)
        // Who tries out keys takes their time.
        here += ((off > 0 && now.tries[from] === 1 ? cost.timeTried : cost.time) * off * off) / (off * off + 2)
      }
      // Most ways on are hopeless, and to see it here is much cheaper than to go them.
      if (here + (has(keys, to, pitch) ? 0 : leastWrong) <= limit) enter(from, to, here, pitch, atMs, false)
      price += absence[to]!
    }
    for (const to of turns.get(moment) ?? [])
      if (has(keys, to, pitch)) enter(from, to, leaving + cost.turn, pitch, atMs, true)
  }

  const jump = (from: number, pitch: number, atMs: number) => {
    const moment = now.moment[from]!
    const places = index.get(pitch)
    if (!places) return
    const paused = moment !== BEFORE && atMs - now.enteredMs[from]! > cost.pauseBeats * beatMs * now.ratio[from]!
    const price = now.cost[from]! + (moment === BEFORE ? cost.jumpIn : paused ? cost.jumpAfterPause : cost.jump)
    for (
      let at = bisectLeft(places, moment - cost.jumpMoments);
      at < places.length && places[at]! <= moment + cost.jumpMoments;
      at++
    ) {
      const to = places[at]!
      const there =
        price +
        distances[Math.abs(to - moment)]! -
        (to === 0 ? cost.fromTheTop : moments[to]!.startsBar ? cost.fromTheBar : 0)
      if (to !== moment + 1 && there <= limit) enter(from, to, there, pitch, atMs, true)
    }
  }

  const least = (): number => {
    let price = Infinity
    for (let one = 0; one < next.size; one++) if (next.cost[one]! < price) price = next.cost[one]!
    return price
  }

  const best = (): number => {
    let at = 0
    for (let one = 1; one < now.size; one++) if (now.cost[one]! < now.cost[at]!) at = one
    return at
  }

  /** The cheapest belief when nothing comes any more: the few notes that are left were not played. */
  const bestAtEnd = (): number => {
    const leftOf = (one: number) => {
      const moment = now.moment[one]!
      let left =
        moment === BEFORE
          ? 0
          : Math.min(cost.missedMoment, cost.missed * Math.max(0, keysOf[moment]! - ones(now.struck[one]!)))
      for (let next = moment + 1; next < count && left < cost.missedMoment; next++) left += absence[next]!
      return Math.min(left, cost.missedMoment)
    }
    let at = 0
    for (let one = 1; one < now.size; one++) if (now.cost[one]! + leftOf(one) < now.cost[at]! + leftOf(at)) at = one
    return at
  }

  return {
    /** Takes one stroke in. Strokes come in order of time. */
    advance(pitch: number, atMs: number): void {
      next.size = 0
      history.begin()
      const favourite = best()
      limit = now.cost[favourite]! + (now.size > MANY_BELIEFS ? cost.pruneMany : cost.prune)
      for (let from = 0; from < now.size; from++) {
        if (now.cost[from]! > limit) continue
        stay(from, pitch, atMs)
        goOn(from, pitch, atMs)
      }
      if (least() > now.cost[favourite]! + cost.asExpected) jump(favourite, pitch, atMs)
      strokes++
      ;[now, next] = [next, now]
    },
    /** Where the player is believed to be: the last moment reached, or -1. */
    place: (): number => now.moment[best()]!,
    /** What the newest stroke is believed to be. */
    newest: (): Step => history.at(strokes - 1, best()),
    /**
     * The most plausible way of all strokes so far; of a take that is over, whoever was nearly at the end is likeliest
     * to have come to it.
     */
    way: (isOver = false): Step[] => history.back(strokes, isOver ? bestAtEnd() : best()),
  }
}

/**
 * How each belief came about, stroke by stroke, in two growing lists: 16 bits of origin and the kind, and the moment.
 */
function createHistory() {
  let origins = new Int32Array(4096)
  let matches = new Int32Array(4096)
  const starts: number[] = []
  let start = 0
  let end = 0
  const step = (stroke: number, slot: number): Step => {
    const origin = origins[starts[stroke]! + slot]!
    return { moment: matches[starts[stroke]! + slot]!, kind: KINDS[(origin >> 1) & 3]!, jumped: (origin & 1) === 1 }
  }
  return {
    begin() {
      start = end
      starts.push(start)
    },
    grow(size: number) {
      end = start + size
      if (end <= origins.length) return
      const [oldOrigins, oldMatches] = [origins, matches]
      origins = new Int32Array(2 * oldOrigins.length)
      matches = new Int32Array(2 * oldMatches.length)
      origins.set(oldOrigins)
      matches.set(oldMatches)
    },
    set(slot: number, from: number, matched: number, kind: number, jumped: boolean) {
      origins[start + slot] = (from << 3) | (kind << 1) | (jumped ? 1 : 0)
      matches[start + slot] = matched
    },
    at: step,
    back(strokes: number, last: number): Step[] {
      const steps = new Array<Step>(strokes)
      let at = last
      for (let stroke = strokes - 1; stroke >= 0; stroke--) {
        steps[stroke] = step(stroke, at)
        at = origins[starts[stroke]! + at]! >> 3
      }
      return steps
    },
  }
}

/** For each moment the set of its keys as 128 bits. */
function keySets(moments: readonly Moment[], keysOf: (moment: Moment) => readonly number[]): Int32Array {
  const sets = new Int32Array(4 * moments.length)
  moments.forEach((moment, place) => {
    for (const key of keysOf(moment)) if (key >= 0 && key < 128) sets[4 * place + (key >> 5)]! |= 1 << (key & 31)
  })
  return sets
}

const has = (sets: Int32Array, moment: number, key: number): boolean =>
  ((sets[4 * moment + (key >> 5)]! >> (key & 31)) & 1) === 1

/** For each key, the moments in which it stands, ascending. */
function indexByKey(moments: readonly Moment[]): Map<number, number[]> {
  const index = new Map<number, number[]>()
  moments.forEach(({ pitches }, moment) => {
    for (const pitch of new Set(pitches)) {
      const places = index.get(pitch)
      if (places) places.push(moment)
      else index.set(pitch, [moment])
    }
  })
  return index
}

function ones(bits: number): number {
  let count = 0
  for (let rest = bits; rest !== 0; rest &= rest - 1) count++
  return count
}

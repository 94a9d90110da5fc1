import type { Hands } from '../music/arrangement'
import type { TakeNote } from '../ear/take'
import { alignedStretches, type StrokeEvent } from './local-alignment'
import { EDGES, patternOf, TOGETHER_MS, type NoteIndex } from './note-index'

/**
 * What of which song was played when. Bars by their printed numbers; strokes by their numbers in the take, the last one
 * included.
 */
export interface RecognisedScoreSpan {
  score: number
  hands: Hands
  fromBar: number
  toBar: number
  /** The same bars by index. */
  bars: readonly [first: number, last: number]
  fromMs: number
  toMs: number
  fromPlayed: number
  toPlayed: number
  restarts: number
  /** How sure it is, bits beyond what chance would give among all places there are. */
  bits: number
}

/**
 * Nothing is claimed for less: about one stretch in a hundred that chance would make (own choice, measured:
 * docs/how-it-works.md).
 */
const SURE_BITS = 7
/** A candidate needs this many patterns in a row that continue as written, within this many events. */
const HITS = 3
const HIT_WINDOW = 12
/**
 * Heard moments before and behind its patterns that are looked at for a candidate: where it begins and ends, and what
 * lies between restarts.
 */
const AROUND = 24
/** After this silence playing has ended, ms. */
const SILENCE_MS = 8_000

/**
 * Which stretches of which songs a take holds, whoever played them at whatever tempo: from any bar, with slips and
 * restarts. Patterns of three notes find where it might be; a local alignment (Smith and Waterman 1981, with going back
 * to where one was) decides, and what chance would give among so many places is not claimed. What belongs to none is
 * left out. Stretches come in order of time and share no strokes.
 */
export function recognise(index: NoteIndex, notes: readonly TakeNote[]): RecognisedScoreSpan[] {
  const heard = strokeEventsOf(notes)
  const placeBits = Math.log2(Math.max(2, index.places))
  const found = candidates(index, heard)
    .flatMap(({ hearable, from, to }) => {
      const { score, hands, events, columns } = index.hearables[hearable]!
      return alignedStretches(heard.slice(from, to + 1), events, columns).map(stretch => ({
        ...stretch,
        from: from + stretch.from,
        to: from + stretch.to,
        pairs: stretch.pairs.map(([at, event]): [number, number] => [from + at, event]),
        score,
        hands,
        events,
        sure: stretch.bits - placeBits,
      }))
    })
    .filter(({ sure }) => sure >= SURE_BITS)
  // The surest first; what is left of the others must be sure by itself.
  found.sort((a, b) => b.sure - a.sure)
  const taken = new Uint8Array(heard.length)
  const kept: RecognisedScoreSpan[] = []
  for (const { from: begin, to: end, pairs: all, score, hands, events, sure } of found) {
    if (all.filter(([at]) => taken[at]).length > 0.3 * all.length) continue
    for (let at = begin; at <= end; at++) taken[at] = 1
    for (const pairs of timesOf(all)) {
      const [from, to] = [pairs[0]![0], pairs.at(-1)![0]]
      const restarts = pairs.filter(([, event], place) => place > 0 && event <= pairs[place - 1]![1]).length
      const bars = pairs.map(([, event]) => events[event]!)
      kept.push({
        score,
        hands,
        restarts,
        bits: sure,
        fromBar: Math.min(...bars.map(({ bar }) => bar)),
        toBar: Math.max(...bars.map(({ bar }) => bar)),
        bars: [Math.min(...bars.map(({ barIndex }) => barIndex)), Math.max(...bars.map(({ barIndex }) => barIndex))],
        fromMs: heard[from]!.atMs,
        toMs: heard[to]!.endMs,
        fromPlayed: heard[from]!.first,
        toPlayed: heard[to]!.last,
      })
    }
  }
  return kept.sort((a, b) => a.fromMs - b.fromMs)
}

/**
 * Going back over fewer moments is taking up again; over more, with as many before and behind it, it is another time.
 */
const ANOTHER_TIME = 8

/** What was played several times in a row, each time by itself. */
function timesOf(pairs: readonly [heard: number, event: number][]): [heard: number, event: number][][] {
  const times: [number, number][][] = [[]]
  pairs.forEach((pair, place) => {
    const own = times.at(-1)!
    const isBack =
      own.length >= ANOTHER_TIME && pairs.length - place >= ANOTHER_TIME && own.at(-1)![1] - pair[1] >= ANOTHER_TIME
    if (isBack) times.push([pair])
    else own.push(pair)
  })
  return times
}

/** Strokes that fall together, with the numbers of the first and last of them. */
function strokeEventsOf(notes: readonly TakeNote[]): StrokeEvent[] {
  const heard: (StrokeEvent & { pitches: number[] })[] = []
  notes.forEach(({ onsetMs, durationMs, pitch }, played) => {
    const last = heard.at(-1)
    if (last && onsetMs - last.atMs <= TOGETHER_MS) {
      if (!last.pitches.includes(pitch)) last.pitches.push(pitch)
      last.last = played
      last.endMs = Math.max(last.endMs, onsetMs + durationMs)
    } else heard.push({ atMs: onsetMs, endMs: onsetMs + durationMs, pitches: [pitch], first: played, last: played })
  })
  for (const { pitches } of heard) pitches.sort((a, b) => a - b)
  return heard
}

interface Candidate {
  hearable: number
  from: number
  to: number
}

/**
 * Where patterns of a song follow each other as they are written: which stretches of what was heard are worth a closer
 * look.
 */
function candidates(index: NoteIndex, heard: readonly StrokeEvent[]): Candidate[] {
  const open = new Map<number, { at: number; event: number; row: number; first: number }[]>()
  const found = new Map<number, Candidate[]>()
  for (let at = 0; at + 2 < heard.length; at++) {
    const seen = new Set<number>()
    for (const [second, third] of [
      [1, 2],
      [2, 3],
      [1, 3],
    ] as const) {
      const [one, two, three] = [heard[at]!, heard[at + second], heard[at + third]]
      if (!two || !three || three.atMs - one.atMs > SILENCE_MS) continue
      for (const edge of EDGES) {
        for (const { hearable, event } of index.find(
          patternOf(edge(one.pitches), edge(two.pitches), edge(three.pitches)),
        )) {
          const key = hearable * 65_536 + event
          if (seen.has(key)) continue
          seen.add(key)
          const recent = (open.get(hearable) ?? []).filter(hit => at - hit.at <= HIT_WINDOW)
          const before = recent.filter(
            hit => hit.at < at && event - hit.event >= 1 && event - hit.event <= 2 * (at - hit.at) + 1,
          )
          const best = before.reduce<(typeof recent)[number] | undefined>(
            (most, hit) => (hit.row > (most?.row ?? 0) ? hit : most),
            undefined,
          )
          const row = (best?.row ?? 0) + 1
          const first = best?.first ?? at
          open.set(hearable, [...recent, { at, event, row, first }])
          if (row >= HITS)
            note(found, {
              hearable,
              from: Math.max(0, first - AROUND),
              to: Math.min(heard.length - 1, at + 3 + AROUND),
            })
        }
      }
    }
  }
  return [...found.values()].flat()
}

/** Notes a candidate, joined to the one before it where they touch. */
function note(found: Map<number, Candidate[]>, candidate: Candidate): void {
  const own = found.get(candidate.hearable) ?? []
  const last = own.at(-1)
  if (last && candidate.from <= last.to + 1) last.to = Math.max(last.to, candidate.to)
  else own.push(candidate)
  found.set(candidate.hearable, own)
}

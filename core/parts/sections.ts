import { EACH_HAND } from '#core/music/arrangement'
import type { Arrangement } from '../music/arrangement'
import type { ScoreSpan } from '../music/passage'
import { compare, equal, toDecimal } from '../music/quarters'
import { handPart, keyOf } from './hand-part'
import { sectionMarks } from './score-signs'

/** What a listener would call A, B, verse, chorus; `like`: the earlier section that it is like. */
export interface Section extends ScoreSpan {
  name: string
  like?: string
}

/** Sections are like each other from this share of common notes on, laid beginning to beginning. Own choice. */
const LIKE = 0.6
/**
 * A beginning of at most so many bars that does not return, at most half as long as what follows, is an introduction.
 * Common practice; own figures.
 */
const INTRO = { bars: 8, share: 0.5 }

/**
 * Names sections: by the score's rehearsal marks, otherwise by letters, the same for what is alike and with a number
 * where it returns (A1, B, A2); what stands before at most half a section is the intro, what begins at a coda sign the
 * coda.
 */
export function sectionNames(arrangement: Arrangement, stretches: readonly ScoreSpan[]): Section[] {
  const keys = stretches.map(stretch => keysOf(arrangement, stretch))
  const like = stretches.map((_, index) =>
    keys.slice(0, index).findIndex(other => commonShare(keys[index]!, other) >= LIKE),
  )
  const root = (index: number): number => (like[index]! < 0 ? index : root(like[index]!))
  const roots = stretches.map((_, index) => root(index))
  const marks = sectionMarks(arrangement)
  const given = stretches.map(
    stretch =>
      marks.find(mark => equal(mark.onset, stretch.from))?.name ?? ownName(arrangement, stretches, stretch, roots),
  )
  const letters = new Map<number, string>()
  for (const [index, one] of roots.entries())
    if (given[index] === undefined && !letters.has(one)) letters.set(one, letterOf(letters.size))
  const plain = roots.map((one, index) => given[index] ?? letters.get(one)!)
  const names = plain.map((name, index) => {
    if (plain.filter(other => other === name).length === 1) return name
    const time = plain.slice(0, index + 1).filter(other => other === name).length
    return given[index] === undefined ? `${name}${time}` : time === 1 ? name : `${name} ${time}`
  })
  return stretches.map(({ from, to }, index) => ({
    name: names[index]!,
    from,
    to,
    ...(like[index]! >= 0 ? { like: names[like[index]!]! } : {}),
  }))
}

const letterOf = (index: number): string => (index < 26 ? String.fromCharCode(65 + index) : `Section ${index + 1}`)

function ownName(
  arrangement: Arrangement,
  stretches: readonly ScoreSpan[],
  stretch: ScoreSpan,
  roots: readonly number[],
): string | undefined {
  const index = stretches.indexOf(stretch)
  if (arrangement.bars.some(bar => bar.coda && equal(bar.start, stretch.from))) return 'Coda'
  const next = stretches[1]
  if (index > 0 || !next || roots.lastIndexOf(0) > 0) return undefined
  const bars = arrangement.bars.filter(bar => compare(bar.start, stretch.to) < 0).length
  return bars <= INTRO.bars && length(stretch) <= INTRO.share * length(next) ? 'Intro' : undefined
}

const length = ({ from, to }: ScoreSpan): number => toDecimal(to) - toDecimal(from)

/**
 * The share of notes of the shorter stretch that the longer one has at the same place, counted from the first bar line.
 */
function commonShare(here: ReadonlySet<string>, there: ReadonlySet<string>): number {
  const [few, many] = here.size <= there.size ? [here, there] : [there, here]
  // Half of a section is not like the whole.
  if (few.size === 0 || many.size > 2 * few.size) return 0
  let common = 0
  for (const key of few) if (many.has(key)) common++
  return common / few.size
}

/** The notes of both hands by place and key. */
function keysOf(arrangement: Arrangement, stretch: ScoreSpan): Set<string> {
  return new Set(
    EACH_HAND.flatMap(hand =>
      handPart(arrangement, stretch, hand).notes.map(({ at, note }) => `${keyOf(at)} ${note.pitch}`),
    ),
  )
}

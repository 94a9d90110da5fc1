import type { ShownPass } from '#core/coach/stairs'
import { MAX_REPEATS, type RepeatGoal } from '#core/coach/how-often'
import type { Arrangement, Hands } from '#core/music/arrangement'
import { barsNumbered } from '#core/music/marked'
import type { ScoreSpan } from '#core/music/passage'
import type { Quarters } from '#core/music/quarters'
import type { PracticeMode } from '~/utils/stand/states'

/**
 * A pass to be played, as encoded in a link to the Stand. `bars`: by their printed numbers, for callers that do not
 * know their positions.
 */
export interface StandRequest {
  hands: Hands
  bpm: number
  mode?: PracticeMode
  stretch?: ScoreSpan
  bars?: { from: number; to: number }
  isLed?: boolean
  howOften?: RepeatGoal
}

const text = ({ n, d }: Quarters): string => `${n}/${d}`

/** A link to a pass: the part it begins in, with the rest in the query. `isLed`: the coach moves on from there. */
export const standLink = (partId: string, { hands, bpm, mode, stretch, bars, isLed, howOften }: StandRequest) => ({
  path: `/stand/${partId}`,
  query: {
    hands,
    bpm: String(Math.round(bpm * 10) / 10),
    ...(mode && mode !== 'steady' ? { mode } : {}),
    ...(stretch ? { from: text(stretch.from), to: text(stretch.to) } : {}),
    ...(bars ? { bars: `${bars.from}-${bars.to}` } : {}),
    ...(isLed ? { coach: '1' } : {}),
    ...(howOften && howOften.until !== 'stopped'
      ? { [howOften.until === 'times' ? 'times' : 'clean']: String(howOften.count) }
      : {}),
  },
})

/**
 * A link to what the coach asks for: a part as it is, or a span in it or beyond it; `isLed`: the coach moves on from
 * there.
 */
export const askedLink = (
  partId: string,
  {
    kind,
    isWhole,
    stretch,
    hands,
    bpm,
    mode,
  }: Pick<ShownPass, 'kind' | 'isWhole' | 'stretch' | 'hands' | 'bpm' | 'mode'>,
  isLed = true,
) => standLink(partId, { hands, bpm, mode, stretch: kind === 'part' && isWhole ? undefined : stretch, isLed })

/** A stretch out of a link; undefined where the link says nothing usable. */
export function stretchFrom(query: { from?: unknown; to?: unknown }): ScoreSpan | undefined {
  const moment = (value: unknown): Quarters | undefined => {
    const [, n, d] = /^(\d{1,7})\/([1-9]\d{0,5})$/.exec(String(value)) ?? []
    return n === undefined ? undefined : { n: Number(n), d: Number(d) }
  }
  const [from, to] = [moment(query.from), moment(query.to)]
  return from && to && from.n * to.d < to.n * from.d ? { from, to } : undefined
}

/**
 * Bars by their printed numbers out of a link; undefined where it says nothing usable, or names bars that are not
 * there.
 */
export function barsFrom(query: { bars?: unknown }, arrangement: Arrangement): ScoreSpan | undefined {
  const [, from, to] = /^(\d{1,4})-(\d{1,4})$/.exec(String(query.bars)) ?? []
  return from === undefined ? undefined : barsNumbered(arrangement, Number(from), Number(to))
}

/** How often something is played, out of a link; undefined where the link says nothing usable. */
export function howOftenFrom(query: { times?: unknown; clean?: unknown }): RepeatGoal | undefined {
  for (const [name, until] of [
    ['times', 'times'],
    ['clean', 'clean-in-a-row'],
  ] as const) {
    const count = Number(query[name])
    if (Number.isInteger(count) && count >= 1 && count <= MAX_REPEATS) return { until, count }
  }
  return undefined
}

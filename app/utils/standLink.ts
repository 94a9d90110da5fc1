import type { Hands } from '#core/music/arrangement'
import type { Stretch } from '#core/music/passage'
import type { Quarters } from '#core/music/quarters'

/** A pass to be played, as a link to the Stand carries it. */
export interface StandRequest { hands: Hands, bpm: number, mode?: 'own-time' | 'steady', stretch?: Stretch, isLed?: boolean }

const text = ({ n, d }: Quarters): string => `${n}/${d}`

/** Where a pass is played: the part it begins in, with the rest in the query. `isLed`: the coach goes on from there. */
export const standLink = (partId: string, { hands, bpm, mode, stretch, isLed }: StandRequest) => ({
  path: `/stand/${partId}`,
  query: { hands, bpm: String(Math.round(bpm * 10) / 10), ...(mode === 'own-time' ? { mode } : {}), ...(stretch ? { from: text(stretch.from), to: text(stretch.to) } : {}), ...(isLed ? { coach: '1' } : {}) },
})

/** A stretch out of a link; undefined where the link says nothing usable. */
export function stretchFrom(query: { from?: unknown, to?: unknown }): Stretch | undefined {
  const moment = (value: unknown): Quarters | undefined => {
    const [, n, d] = /^(\d{1,7})\/([1-9]\d{0,5})$/.exec(String(value)) ?? []
    return n === undefined ? undefined : { n: Number(n), d: Number(d) }
  }
  const [from, to] = [moment(query.from), moment(query.to)]
  return from && to && from.n * to.d < to.n * from.d ? { from, to } : undefined
}

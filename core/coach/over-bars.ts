import type { Arrangement } from '../music/arrangement'

/**
 * Places of a song in order, with a continuous bar position (`at`: bar 3, beat 3 of four is 3.5); places in bars that
 * no longer exist are left out.
 */
export function overBars<Placed extends { bar: number; beat: number }>(
  { bars }: Pick<Arrangement, 'bars'>,
  placed: readonly Placed[],
): (Placed & { at: number })[] {
  const beatsOf = new Map(bars.map(bar => [bar.number, bar.meter.beats]))
  return placed
    .flatMap(one => {
      const beats = beatsOf.get(one.bar)
      return beats === undefined ? [] : [{ ...one, at: one.bar + (one.beat - 1) / beats }]
    })
    .sort((a, b) => a.at - b.at)
}

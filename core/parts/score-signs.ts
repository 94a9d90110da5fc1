import { barAt, type Arrangement, type Rehearsal } from '../music/arrangement'
import { isEnding } from '../music/bar-count'
import { add, subtract, toDecimal } from '../music/quarters'

/** Own choice: how much the score's signs say, in the measure of the evidence for phrase ends. */
const SIGNS = { rehearsal: 8, repeat: 7, double: 6, key: 4, meter: 3, tempo: 3, jump: 5 }
/** A sign from here on begins a section for sure. */
export const SURE = 5

/** The rehearsal marks but for those that only print the bar's number. */
export const sectionMarks = (arrangement: Arrangement): Rehearsal[] =>
  arrangement.rehearsals.filter(({ onset, name }) => Number(name) !== barAt(arrangement, onset).number)

/** The score's signs that a section begins, by the moment. */
export function signsOf(arrangement: Arrangement): Map<number, number> {
  const signs = new Map<number, number>()
  const say = (at: number, much: number) => signs.set(at, Math.max(signs.get(at) ?? 0, much))
  const { bars } = arrangement
  for (const { onset } of sectionMarks(arrangement)) say(toDecimal(onset), SIGNS.rehearsal)
  bars.forEach((bar, index) => {
    const [from, next] = [toDecimal(bar.start), bars[index + 1]]
    const to = toDecimal(add(bar.start, bar.length))
    if (bar.repeatStart) say(from, SIGNS.repeat)
    // What is played instead the second time belongs to the same section.
    const isInEndings = isEnding(bars, index) && isEnding(bars, index + 1)
    if (bar.repeatEnd && !isInEndings) say(to, SIGNS.repeat)
    if (bar.sectionEnd && !isInEndings) say(to, SIGNS.double)
    if (isEnding(bars, index) && !isInEndings) say(to, SIGNS.repeat)
    if (bar.segno || bar.coda) say(from, SIGNS.jump)
    if (bar.jump || bar.fine) say(to, SIGNS.jump)
    if (!next) return
    if (next.fifths !== bar.fifths) say(to, SIGNS.key)
    if (next.meter.beats !== bar.meter.beats || next.meter.beatType !== bar.meter.beatType) say(to, SIGNS.meter)
  })
  for (const { onset } of arrangement.tempos.slice(1)) {
    const bar = barAt(arrangement, onset)
    if (toDecimal(subtract(onset, bar.start)) === 0) say(toDecimal(onset), SIGNS.tempo)
  }
  return signs
}

/** Where endings begin, quarter notes: they belong to what is before them. */
export function endingsOf({ bars }: Arrangement): Set<number> {
  const numbers = (index: number) => (bars[index]?.endings ?? []).join()
  return new Set(
    bars
      .filter((_, index) => isEnding(bars, index) && numbers(index) !== numbers(index - 1))
      .map(bar => toDecimal(bar.start)),
  )
}

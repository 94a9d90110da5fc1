import type { MidiPitch } from '../music/pitch'

/** One voice from a chord to the next: `by` in half steps; `from` or `to` is missing where a voice comes or goes. */
export interface VoiceMove {
  from?: MidiPitch
  to?: MidiPitch
  by: number
}

/** A voice that begins or ends costs like a move of so many half steps. */
const COMES_OR_GOES = 4

/**
 * How the voices of one chord lead to the next, lowest first: voices do not cross, and all of them together move as
 * little as can be. Both chords sorted from low to high.
 */
export function leadVoices(from: readonly MidiPitch[], to: readonly MidiPitch[]): VoiceMove[] {
  const cost: number[][] = [Array.from({ length: to.length + 1 }, (_, j) => j * COMES_OR_GOES)]
  for (let i = 1; i <= from.length; i++) {
    cost[i] = [i * COMES_OR_GOES]
    for (let j = 1; j <= to.length; j++) {
      cost[i]![j] = Math.min(
        cost[i - 1]![j - 1]! + Math.abs(from[i - 1]! - to[j - 1]!),
        cost[i - 1]![j]! + COMES_OR_GOES,
        cost[i]![j - 1]! + COMES_OR_GOES,
      )
    }
  }
  const moves: VoiceMove[] = []
  for (let [i, j] = [from.length, to.length]; i > 0 || j > 0;) {
    if (i > 0 && j > 0 && cost[i]![j] === cost[i - 1]![j - 1]! + Math.abs(from[i - 1]! - to[j - 1]!)) {
      moves.unshift({ from: from[--i], to: to[--j], by: to[j]! - from[i]! })
    } else if (i > 0 && cost[i]![j] === cost[i - 1]![j]! + COMES_OR_GOES) moves.unshift({ from: from[--i], by: 0 })
    else moves.unshift({ to: to[--j], by: 0 })
  }
  return moves
}

/** Half steps moved by all voices together; a voice that comes or goes counts as a major third. */
export const movement = (moves: readonly VoiceMove[]): number =>
  moves.reduce(
    (sum, { from, to, by }) => sum + (from === undefined || to === undefined ? COMES_OR_GOES : Math.abs(by)),
    0,
  )

/** A key with its finger, for describing a change of chord. */
export interface HeldKey {
  pitch: MidiPitch
  name: string
  finger?: number
}

/**
 * A change of chord as one movement of the hand: "5 stays on A; 2 and 1 go up together". Fingers are named where both
 * chords have them, else the notes. Both chords from low to high.
 */
export function describeChange(from: readonly HeldKey[], to: readonly HeldKey[]): string {
  const moves = leadVoices(
    from.map(one => one.pitch),
    to.map(one => one.pitch),
  )
  const named = moves.map(move => {
    const [was, is] = [from.find(one => one.pitch === move.from), to.find(one => one.pitch === move.to)]
    return {
      ...move,
      was,
      is,
      who: is?.finger !== undefined && is.finger === was?.finger ? String(is.finger) : undefined,
    }
  })
  const said: string[] = named
    .filter(one => one.was && one.is && one.by === 0)
    .map(
      ({ who, was, is }) =>
        `${who ?? is!.name} stays${who ? ` on ${is!.name}` : was!.finger !== is!.finger && is!.finger ? `, finger ${is!.finger} takes it` : ''}`,
    )
  for (const [sign, way] of [
    [1, 'up'],
    [-1, 'down'],
  ] as const) {
    const going = named.filter(one => one.was && one.is && Math.sign(one.by) === sign)
    if (going.length === 0) continue
    const sizes = [...new Set(going.map(one => Math.abs(one.by)))]
    const who = list(going.map(one => one.who ?? `${one.was!.name} to ${one.is!.name}`))
    const verb = going.length > 1 ? 'go' : 'goes'
    const size = sizes.length === 1 ? ` ${stepText(sizes[0]!)}` : ''
    said.push(`${who} ${verb} ${way}${size}${going.length > 1 ? ' together' : ''}`)
  }
  for (const { was, is } of named) {
    if (!was && is) said.push(`${is.finger ? `${is.finger} adds ` : ''}${is.name}${is.finger ? '' : ' is added'}`)
    if (was && !is) said.push(`${was.name} is let go`)
  }
  return said.join('; ')
}

const list = (words: readonly string[]): string =>
  words.length < 2 ? words.join() : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`

/** Half steps as a player says them. */
export const stepText = (halfSteps: number): string =>
  [
    'no step',
    'a half step',
    'a whole step',
    'a minor third',
    'a major third',
    'a fourth',
    'a tritone',
    'a fifth',
    'a minor sixth',
    'a major sixth',
    'a minor seventh',
    'a major seventh',
    'an octave',
  ][halfSteps] ?? `${halfSteps} half steps`

import Fraction from 'fraction.js'

/**
 * A position or length in score time, in quarter notes, as an exact fraction in lowest terms
 * with a positive denominator. Plain data, so that it survives JSON and messages to workers.
 */
export interface Quarters {
  readonly n: number
  readonly d: number
}

/** A score time that cannot be represented, or notated, exactly. */
export class NotExact extends RangeError {
  override readonly name = 'NotExact'
}

export const ZERO: Quarters = { n: 0, d: 1 }

/** `n / d` quarter notes in lowest terms. Throws NotExact when `d` is 0 or the result leaves the safe integers. */
export function quarters(n: number, d = 1): Quarters {
  if (d === 0) throw new NotExact('a length in quarter notes needs a denominator that is not 0')
  return lowest(n, d) ?? plain(new Fraction(n, d))
}

export const add = (a: Quarters, b: Quarters): Quarters =>
  a.d === b.d ? quarters(a.n + b.n, a.d) : (lowest(a.n * b.d + b.n * a.d, a.d * b.d) ?? plain(exact(a).add(exact(b))))

export const subtract = (a: Quarters, b: Quarters): Quarters =>
  a.d === b.d ? quarters(a.n - b.n, a.d) : (lowest(a.n * b.d - b.n * a.d, a.d * b.d) ?? plain(exact(a).sub(exact(b))))

export const multiply = (a: Quarters, b: Quarters): Quarters =>
  lowest(a.n * b.n, a.d * b.d) ?? plain(exact(a).mul(exact(b)))

/** How many times `b` goes into `a`, as an exact fraction. */
export const ratio = (a: Quarters, b: Quarters): Quarters =>
  lowest(a.n * b.d, a.d * b.n) ?? plain(exact(a).div(exact(b)))

/**
 * Lowest terms in plain numbers: exact while both are safe integers, and undefined otherwise, for the library's big
 * integers.
 */
function lowest(n: number, d: number): Quarters | undefined {
  if (!Number.isSafeInteger(n) || !Number.isSafeInteger(d) || d === 0) return undefined
  let [a, b] = [Math.abs(n), Math.abs(d)]
  while (b !== 0) [a, b] = [b, a % b]
  const sign = d < 0 ? -1 : 1
  return { n: n === 0 ? 0 : (sign * n) / a, d: (sign * d) / a }
}

/** The division of the quarter note that all these times lie on; undefined where it would be finer than `finest`. */
export function commonDivision(moments: Iterable<Quarters>, finest: number): number | undefined {
  let division = 1
  const seen = new Set<number>()
  for (const { d } of moments) {
    if (seen.has(d)) continue
    seen.add(d)
    division *= lowest(d, division)!.n
    if (division > finest) return undefined
  }
  return division
}

/** Negative, 0 or positive as `a` is before, at or after `b`. */
export function compare(a: Quarters, b: Quarters): number {
  if (a.d === b.d) return a.n - b.n
  const [left, right] = [a.n * b.d, b.n * a.d]
  return Number.isSafeInteger(left) && Number.isSafeInteger(right) ? left - right : exact(a).compare(exact(b))
}

export const equal = (a: Quarters, b: Quarters): boolean => a.n === b.n && a.d === b.d
export const earlier = (a: Quarters, b: Quarters): Quarters => (compare(a, b) <= 0 ? a : b)
export const later = (a: Quarters, b: Quarters): Quarters => (compare(a, b) >= 0 ? a : b)

/** The decimal value, for JSON and for arithmetic in milliseconds. */
export const toDecimal = (a: Quarters): number => a.n / a.d

const exact = (a: Quarters): Fraction => new Fraction(a.n, a.d)

function plain(value: Fraction): Quarters {
  const n = Number(value.n) * Number(value.s)
  const d = Number(value.d)
  if (!Number.isSafeInteger(n) || !Number.isSafeInteger(d))
    throw new NotExact('this length in quarter notes is too fine or too long to keep exactly')
  return { n: n === 0 ? 0 : n, d }
}

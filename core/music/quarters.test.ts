import fc from 'fast-check'
import Fraction from 'fraction.js'
import { expect, test } from 'vitest'
import { compare, quarters } from './quarters'

const term = fc.integer({ min: 1, max: Number.MAX_SAFE_INTEGER })

test('any two moments are told apart exactly, as fraction.js does, also where their products are no safe integers', () => {
  expect(Math.sign(compare(quarters(9007199254740990, 9007199254740991), quarters(1)))).toBe(-1)
  fc.assert(
    fc.property(term, term, term, term, (n, d, m, e) => {
      const [a, b] = [new Fraction(n, d), new Fraction(m, e)]
      expect(Math.sign(compare(quarters(n, d), quarters(m, e)))).toBe(a.compare(b))
    }),
    { seed: 1 },
  )
})

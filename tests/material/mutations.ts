/** Requests and files that are wrong in every way: made from right ones by chance, the same for the same seed. */
import type { Chance } from '#core/players/randomness'

/**
 * Values that programs stumble over: characters no text needs, halves of pairs, days there are not, numbers of every
 * size, empty and deep things.
 */
export const NASTY: readonly unknown[] = [
  '',
  ' ',
  '\u0000',
  'a\u0000b',
  '\u0007',
  '\uD83D',
  'cut \uD83D',
  '\uDE00 half',
  'x'.repeat(5_000),
  '🎹'.repeat(200),
  '2026-02-30',
  '0000-00-00',
  '9999-12-31',
  '10000-01-01',
  '-1-01-01',
  '2026-13-45T99:99:99Z',
  '0000-01-01T00:00:00Z',
  'null',
  '../../etc/passwd',
  '%00',
  '{{n}}',
  '__proto__',
  "'; drop table songs; --",
  0,
  -0,
  -1,
  0.5,
  1e-320,
  1e21,
  1e308,
  -1e308,
  2 ** 31,
  2 ** 53,
  1_000_000_000,
  true,
  false,
  null,
  [],
  {},
  [[]],
  [[[[[[]]]]]],
  { n: 1, d: 0 },
  { n: 1e9, d: 999_983 },
  { n: -1e9, d: 1 },
  { n: 1, d: 1e9 },
  { n: 0.5, d: 1 },
  { n: Number.MAX_SAFE_INTEGER, d: 1 },
  { constructor: { prototype: {} } },
  Array.from({ length: 2_000 }, () => 1),
]

/** A copy, for what is put into data may be changed there in its turn. */
const nasty = (chance: Chance) => structuredClone(chance.pick(NASTY))

/** A copy of plain data with one to three things in it wrong. */
export function mutated(data: unknown, chance: Chance): unknown {
  const copy = structuredClone(data)
  for (let times = 1 + Math.floor(3 * chance.uniform()); times > 0; times--) {
    let holder = copy as Record<string, unknown>
    if (typeof holder !== 'object' || holder === null) return nasty(chance)
    for (;;) {
      const keys = Object.keys(holder)
      const key = keys.length === 0 ? 'more' : chance.pick(keys)
      const inside = holder[key]
      if (typeof inside === 'object' && inside !== null && chance.happens(0.7)) {
        holder = inside as Record<string, unknown>
        continue
      }
      if (chance.happens(0.15)) Reflect.deleteProperty(holder, key)
      else if (!Array.isArray(holder) && chance.happens(0.1))
        holder[String(chance.pick(NASTY)).slice(0, 20)] = nasty(chance)
      else holder[key] = nasty(chance)
      break
    }
  }
  return copy
}

/** Pieces that files of players may hold where nobody expects them. */
const SNIPPETS = [
  '\u0000',
  '<',
  '>',
  '&#0;',
  '&x;',
  '<!DOCTYPE x>',
  '<note/>',
  '</note>',
  '-',
  '999999999',
  '0',
  '{',
  '}',
  '[',
  ']',
  '|',
  '|:',
  '%',
  ':|',
  '\uFEFF',
  '\n'.repeat(50),
  ' '.repeat(500),
  '[C'.repeat(50),
  '{c'.repeat(50),
  '🎹',
] as const

/** A copy of a file with bytes turned, cut, doubled, or put in. */
export function mutatedFile(bytes: Uint8Array, chance: Chance): Uint8Array {
  let copy = Uint8Array.from(bytes)
  for (let times = 1 + Math.floor(4 * chance.uniform()); times > 0; times--) {
    const [a, b] = [Math.floor(chance.uniform() * copy.length), Math.floor(chance.uniform() * copy.length)].sort(
      (one, other) => one - other,
    ) as [number, number]
    const way = chance.uniform()
    if (way < 0.35)
      for (let count = 0; count < 1 + 8 * chance.uniform(); count++)
        copy[Math.floor(chance.uniform() * copy.length)] = Math.floor(256 * chance.uniform())
    else if (way < 0.5) copy = copy.slice(0, b)
    else if (way < 0.65) copy = concat(copy.slice(0, a), copy.slice(b))
    else if (way < 0.8 && copy.length < 400_000) copy = concat(copy.slice(0, b), copy.slice(a))
    else copy = concat(copy.slice(0, a), new TextEncoder().encode(chance.pick(SNIPPETS)), copy.slice(a))
    if (copy.length === 0) return copy
  }
  return copy
}

function concat(...pieces: Uint8Array[]): Uint8Array<ArrayBuffer> {
  const all = new Uint8Array(pieces.reduce((sum, piece) => sum + piece.length, 0))
  pieces.reduce((at, piece) => (all.set(piece, at), at + piece.length), 0)
  return all
}

import { describe, expect, it } from 'vitest'
import { isPlainText, plainText, unplainTextIn, withPlainText } from './plain-text'

describe('plain text', () => {
  it('has no control characters but tabs and line ends, and no halves of pairs', () => {
    expect(['', 'Ré ♯ 🎹', 'a\tb\r\nc'].every(isPlainText)).toBe(true)
    expect(['a\u0000b', '\u0007', '\u007F', '\uD83D', 'x\uDE00'].some(isPlainText)).toBe(false)
  })
  it('is cut without breaking a pair', () => {
    expect(plainText('ab🎹', 3)).toBe('ab')
    expect(plainText('a\u0000b\uD83D')).toBe('ab')
  })
  it('is looked for everywhere in plain data, also in the names of fields, and in deep data', () => {
    expect(unplainTextIn({ a: [1, { b: 'x' }], c: null })).toBeUndefined()
    expect(unplainTextIn({ a: [1, { b: '\u0000' }] })).toBe('a.1.b')
    expect(unplainTextIn({ 'a\u0000': 1, b: { '\u0000': 'x' } })).toBe('b.?')
    let deep: unknown = '\uD83D'
    for (let depth = 0; depth < 100_000; depth++) deep = [deep]
    expect(unplainTextIn(deep)).toContain('0.0.0')
  })
  it('is made of data, and data that is plain already stays the same object', () => {
    const plain = { notes: [{ id: 'n1' }], title: 'Song' }
    expect(withPlainText(plain)).toBe(plain)
    const made = withPlainText({ notes: plain.notes, title: 'So\u0000ng' })
    expect(made).toEqual(plain)
    expect(made.notes).toBe(plain.notes)
  })
})

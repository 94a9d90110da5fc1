import { describe, expect, it } from 'vitest'
import { signatureText } from '#core/words/note-names'
import { messageOf } from './ui/messageOf'

describe('words for the player', () => {
  it('key signatures, without deciding between major and minor', () => {
    expect([0, 1, 3, -1, -4].map(signatureText)).toEqual([
      'no sharps or flats',
      '1 sharp',
      '3 sharps',
      '1 flat',
      '4 flats',
    ])
  })

  it('what a failed request has to say', () => {
    expect(messageOf({ data: { message: 'the reason' }, message: 'POST …: 422' })).toBe('the reason')
    expect(messageOf(new Error('offline'))).toBe('offline')
    expect(messageOf({})).toContain('try again')
  })
})

import { expect, it } from 'vitest'
import { messageOf } from './messageOf'

it('says what the server said of a failed request, or what went wrong, or that it may be tried again', () => {
  expect(messageOf({ data: { message: 'the reason' }, message: 'POST …: 422' })).toBe('the reason')
  expect(messageOf(new Error('offline'))).toBe('offline')
  expect(messageOf({})).toContain('try again')
})

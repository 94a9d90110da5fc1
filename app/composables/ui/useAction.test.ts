import { expect, it } from 'vitest'
import { useAction } from './useAction'

it('is busy until all that was begun is over, and tells what the last one failed of', async () => {
  const { act, problem, isBusy } = useAction()
  let end = () => {}
  const first = act(() => new Promise<string>(resolve => (end = () => resolve('done'))))
  expect(isBusy.value).toBe(true)
  expect(await act(() => Promise.reject(new Error('no room')))).toBeUndefined()
  expect([problem.value, isBusy.value]).toEqual(['no room', true])
  end()
  expect(await first).toBe('done')
  expect(isBusy.value).toBe(false)
})

it('forgets what went wrong when it is tried again, and tells it in the words of its place', async () => {
  const { act, problem } = useAction()
  await act(
    () => {
      throw new Error('422')
    },
    error => `It could not be kept (${(error as Error).message}).`,
  )
  expect(problem.value).toBe('It could not be kept (422).')
  expect(await act(() => 1)).toBe(1)
  expect(problem.value).toBe('')
})

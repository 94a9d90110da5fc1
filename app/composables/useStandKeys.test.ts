import { beforeEach, describe, expect, it, vi } from 'vitest'
import { isSameTrigger, STAND_ACTIONS } from '../../shared/utils/controls'
import { useStandKeys } from './useStandKeys'

const controls = { start: { key: 21 }, next: { pedal: 66 }, faster: { key: 108 } }
let pressed: (event: Partial<KeyboardEvent>) => void
const message = (...bytes: number[]) => ({ bytes, atMs: 0 })

function stand(keys: Record<string, () => void> = {}) {
  const done: string[] = []
  const act = (name: string) => () => { done.push(name) }
  const { takes } = useStandKeys(() => keys, { start: act('start'), again: act('again'), slower: act('slower'), faster: act('faster'), next: act('next') })
  return { takes, done }
}

describe('keys of the Stand', () => {
  beforeEach(() => {
    Object.assign(globalThis, { isSameTrigger, STAND_ACTIONS, useSettingsStore: () => ({ controls }), useEventListener: (_: string, listener: typeof pressed) => { pressed = listener } })
  })

  it('a piano key or pedal that was given to it is obeyed once, and is no music', () => {
    const { takes, done } = stand()
    expect([message(0x90, 21, 70), message(0x80, 21, 0), message(0x90, 21, 0), message(0xB0, 66, 127), message(0xB0, 66, 0), message(0x91, 108, 1)].map(takes)).toEqual([true, true, true, true, true, true])
    expect(done).toEqual(['start', 'next', 'faster'])
  })
  it('everything else is music', () => {
    const { takes, done } = stand()
    expect([message(0x90, 60, 70), message(0xB0, 64, 127), message(0xB0, 1, 66), message(0xE0, 21, 64), message()].map(takes)).toEqual([false, false, false, false, false])
    expect(done).toEqual([])
  })
  it('the computer keyboard acts, but not with a modifier, in a field, or on a button that was reached with it', () => {
    const act = vi.fn()
    stand({ ' ': act, 'ArrowUp': act })
    const press = (event: object) => {
      const preventDefault = vi.fn()
      pressed({ key: ' ', target: null, preventDefault, ...event })
      return preventDefault.mock.calls.length
    }
    const within = (selector: string, focused = false) => ({ closest: (asked: string) => asked.includes(selector) ? { matches: () => focused } : null }) as unknown as EventTarget
    expect(press({})).toBe(1)
    expect(act).toHaveBeenCalledTimes(1)
    for (const event of [{ ctrlKey: true }, { altKey: true }, { metaKey: true }, { defaultPrevented: true }, { key: 'x' }, { key: 'toString' }, { target: within('select') }, { target: within('button', true) }]) expect(press(event), JSON.stringify(event)).toBe(0)
    expect(act).toHaveBeenCalledTimes(1)
    expect(press({ target: within('button') })).toBe(1)
    // A key that is held acts again only where that is wanted.
    expect(press({ repeat: true })).toBe(1)
    expect(press({ key: 'ArrowUp', repeat: true })).toBe(1)
    expect(act).toHaveBeenCalledTimes(3)
  })
})

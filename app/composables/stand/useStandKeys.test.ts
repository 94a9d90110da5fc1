import { describe, expect, it, vi } from 'vitest'
import { useStandKeys } from './useStandKeys'

const controls = { start: { key: 21 }, next: { pedal: 66 }, faster: { key: 108 } } as const
const message = (...bytes: number[]) => ({ bytes, atMs: 0 })

/** An element as far as the keys ask for it: what it is, by the selector that finds it. */
function element(kind: string) {
  const own = {
    closest: (selector: string): unknown => (selector.split(/,\s*(?![^(]*\))/).includes(kind) ? own : null),
  }
  return own as unknown as EventTarget
}
const BODY = { closest: () => null } as unknown as EventTarget

function stand(keys: Record<string, () => void> = {}) {
  const done: string[] = []
  const act = (name: string) => () => {
    done.push(name)
  }
  const heard = new Map<string, (event: object) => void>()
  const actions = {
    start: act('start'),
    again: act('again'),
    slower: act('slower'),
    faster: act('faster'),
    next: act('next'),
    from: act('from'),
    to: act('to'),
    back: act('back'),
    listen: act('listen'),
  }
  const { takes } = useStandKeys(
    () => keys,
    actions,
    () => controls,
    ((name: string, listener: (event: object) => void) => heard.set(name, listener)) as never,
  )
  /** Whether the Stand took a key for itself. */
  const press = (event: object): boolean => {
    const preventDefault = vi.fn()
    const whole = { key: ' ', code: '', target: BODY, preventDefault, ...event }
    heard.get('keydown')!(whole)
    heard.get('keyup')!({ ...whole, preventDefault: () => {} })
    return preventDefault.mock.calls.length > 0
  }
  return {
    takes,
    done,
    press,
    focus: (target: EventTarget) => heard.get('focusin')!({ target }),
    click: () => heard.get('pointerdown')!({}),
  }
}

describe('keys of the Stand', () => {
  it('a piano key or pedal that was given to it is obeyed once, and is no music', () => {
    const { takes, done } = stand()
    expect(
      [
        message(0x90, 21, 70),
        message(0x80, 21, 0),
        message(0x90, 21, 0),
        message(0xb0, 66, 127),
        message(0xb0, 66, 0),
        message(0x91, 108, 1),
      ].map(takes),
    ).toEqual([true, true, true, true, true, true])
    expect(done).toEqual(['start', 'next', 'faster'])
  })
  it('everything else is music', () => {
    const { takes, done } = stand()
    expect(
      [message(0x90, 60, 70), message(0xb0, 64, 127), message(0xb0, 1, 66), message(0xe0, 21, 64), message()].map(
        takes,
      ),
    ).toEqual([false, false, false, false, false])
    expect(done).toEqual([])
  })
  it('do what they say whatever was clicked; a control that was reached with Tab keeps its own', () => {
    const act = vi.fn()
    const { press, focus, click } = stand({ ' ': act, ArrowUp: act, F8: act })
    const button = element('button')
    click()
    focus(button)
    expect([press({ target: button }), press({ target: button, key: 'ArrowUp' })]).toEqual([true, true])
    press({ key: 'Tab' })
    focus(button)
    expect([
      press({ target: button }),
      press({ target: button, key: 'ArrowUp' }),
      press({ target: button, key: 'F8' }),
    ]).toEqual([false, false, true])
    // Clicked now, it is like any other.
    click()
    expect(press({ target: button })).toBe(true)
    expect(act).toHaveBeenCalledTimes(4)
  })
  it('leave alone what is typed, what lies over the Stand, and keys with a modifier', () => {
    const act = vi.fn()
    const { press } = stand({ ' ': act, f: act })
    const kept = [
      { target: element('textarea') },
      { target: element('[role="dialog"]') },
      { ctrlKey: true },
      { metaKey: true },
      { key: 'f', altKey: true },
      { defaultPrevented: true },
      { key: 'x' },
      { key: 'toString' },
    ]
    expect(kept.map(press)).toEqual(kept.map(() => false))
    expect(act).not.toHaveBeenCalled()
  })
  it('know Shift with the arrows, brackets by their place, and signs that need a third level', () => {
    const done: string[] = []
    const { press } = stand(
      Object.fromEntries(
        ['Shift+ArrowUp', 'ArrowUp', '[', '?'].map(key => [
          key,
          () => {
            done.push(key)
          },
        ]),
      ),
    )
    for (const event of [
      { key: 'ArrowUp', shiftKey: true },
      { key: 'ArrowUp' },
      { key: 'ü', code: 'BracketLeft' },
      { key: '[', code: 'Digit8', ctrlKey: true, altKey: true, getModifierState: () => true },
      { key: '?', shiftKey: true },
    ])
      press(event)
    expect(done).toEqual(['Shift+ArrowUp', 'ArrowUp', '[', '[', '?'])
  })
  it('act again while they are held only where that is wanted', () => {
    const act = vi.fn()
    const { press } = stand({ ' ': act, ArrowUp: act, '+': act })
    for (const key of [' ', 'ArrowUp', '+']) press({ key, repeat: true })
    expect(act).toHaveBeenCalledTimes(2)
  })
})

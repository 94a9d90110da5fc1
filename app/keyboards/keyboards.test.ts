import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { keyEvent, type TimedMessage } from '#core/ear/take'
import type { ExpectedNote } from '#core/music/passage'
import { MACHINE } from '#core/players/habits'
import { computerKeys } from './computer-keys'
import { onScreenKeys } from './on-screen'
import { simulatedKeys } from './simulated'
import type { KeyboardSource } from './source'
import { followMidiInputs } from './web-midi'

/** The strokes and releases a source sends, as `+60` and `-60`. */
function listenTo(source: KeyboardSource) {
  const heard: TimedMessage[] = []
  const stop = source.listen(message => heard.push(message))
  const keys = () =>
    heard.map(message => {
      const event = keyEvent(message)!
      return event.kind === 'pedal' ? 'pedal' : `${event.kind === 'down' ? '+' : '-'}${event.pitch}`
    })
  return { heard, keys, stop }
}

describe('MIDI inputs', () => {
  class Input extends EventTarget {
    state = 'connected'
    constructor(
      readonly id: string,
      readonly name: string,
    ) {
      super()
    }

    send(data: number[], timeStamp: number) {
      const event = new Event('midimessage')
      Object.defineProperties(event, { data: { value: Uint8Array.from(data) }, timeStamp: { value: timeStamp } })
      this.dispatchEvent(event)
    }
  }
  const access = () => Object.assign(new EventTarget(), { inputs: new Map<string, Input>() })
  afterEach(() => vi.unstubAllGlobals())

  it('are those there and those plugged in later, and no longer those pulled out', async () => {
    const midi = access()
    const first = new Input('1', 'First')
    midi.inputs.set('1', first)
    vi.stubGlobal('navigator', { requestMIDIAccess: () => Promise.resolve(midi) })
    const told: string[] = []
    const stop = await followMidiInputs((state, inputs) =>
      told.push(`${state}: ${inputs.map(input => input.name).join(', ')}`),
    )
    midi.inputs.set('2', new Input('2', ''))
    midi.dispatchEvent(new Event('statechange'))
    first.state = 'disconnected'
    midi.dispatchEvent(new Event('statechange'))
    stop()
    midi.dispatchEvent(new Event('statechange'))
    expect(told).toEqual(['asking: ', 'ready: First', 'ready: First, MIDI keyboard', 'ready: MIDI keyboard'])
  })

  it('keep the time of the message and let go of what is held when nobody listens any more', async () => {
    const midi = access()
    const input = new Input('1', 'First')
    midi.inputs.set('1', input)
    vi.stubGlobal('navigator', { requestMIDIAccess: () => Promise.resolve(midi) })
    let source: KeyboardSource | undefined
    await followMidiInputs((_, inputs) => {
      source = inputs[0]
    })
    const { heard, keys, stop } = listenTo(source!)
    input.send([0x90, 60, 80], 1234.5)
    input.send([0x90, 64, 80], 1300)
    input.send([0x80, 60, 0], 1400)
    expect(heard[0]!.atMs).toBe(1234.5)
    stop()
    input.send([0x90, 67, 80], 1500)
    expect(keys()).toEqual(['+60', '+64', '-60', '-64'])
  })

  it('are told as not offered, or as refused', async () => {
    const told: string[] = []
    vi.stubGlobal('navigator', {})
    await followMidiInputs(state => told.push(state))
    vi.stubGlobal('navigator', { requestMIDIAccess: () => Promise.reject(new Error('no')) })
    await followMidiInputs(state => told.push(state))
    expect(told).toEqual(['unsupported', 'asking', 'refused'])
  })
})

describe('the computer keyboard', () => {
  const page = new EventTarget()
  const press = (type: 'keydown' | 'keyup', code: string, more: object = {}) => {
    const event = Object.assign(new Event(type, { cancelable: true }), { code, ...more })
    page.dispatchEvent(event)
    return event
  }
  beforeEach(() => {
    vi.stubGlobal('window', page)
    // No event here comes from a form field.
    vi.stubGlobal('HTMLElement', Map)
  })
  afterEach(() => vi.unstubAllGlobals())

  it('has two rows of keys, a C apart by an octave, black keys between the white ones', () => {
    const { keys, stop } = listenTo(computerKeys())
    for (const code of ['KeyZ', 'KeyS', 'KeyM', 'KeyQ', 'Digit2', 'KeyI']) {
      press('keydown', code)
      press('keyup', code)
    }
    stop()
    expect(keys().filter(key => key.startsWith('+'))).toEqual(['+48', '+49', '+59', '+60', '+61', '+72'])
  })

  it('takes no repeats and no shortcuts, and lets go when the window loses the focus', () => {
    const { keys, stop } = listenTo(computerKeys())
    press('keydown', 'KeyQ')
    press('keydown', 'KeyQ', { repeat: true })
    press('keydown', 'KeyR', { ctrlKey: true })
    press('keydown', 'KeyW')
    page.dispatchEvent(new Event('blur'))
    expect(keys()).toEqual(['+60', '+62', '-60', '-62'])
    expect(press('keydown', 'F5').defaultPrevented).toBe(false)
    stop()
    press('keydown', 'KeyQ')
    expect(keys()).toHaveLength(4)
  })
})

describe('keys on the screen', () => {
  it('sound once while pressed and are let go when they are put away', () => {
    const source = onScreenKeys()
    const { keys, stop } = listenTo(source)
    source.press(60, 1)
    source.press(60, 2)
    source.release(60, 3)
    source.release(60, 4)
    source.press(64, 5)
    stop()
    source.press(67, 6)
    expect(keys()).toEqual(['+60', '-60', '+64', '-64'])
  })
})

describe('the simulated player', () => {
  const due = (onsetMs: number, pitch: number): ExpectedNote => ({
    id: `n${onsetMs}`,
    hand: 'right',
    bar: 1,
    beat: 1,
    pitch,
    spelled: '',
    onsetMs,
    durationMs: 400,
    grace: false,
    time: 1,
    barIndex: 0,
    eventMs: onsetMs,
    quarterMs: 500,
    voice: '1',
  })
  beforeEach(() => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance'] })
  })
  afterEach(() => {
    vi.useRealTimers()
  })

  it('strikes every key at its own moment, also when its timer is late', () => {
    const source = simulatedKeys(1, MACHINE)
    const { heard, keys, stop } = listenTo(source)
    const start = performance.now() + 1000
    source.prepare([due(0, 60), due(500, 62)], start)
    vi.advanceTimersByTime(3000)
    expect(keys()).toEqual(['+60', '-60', '+62', '-62'])
    expect(heard.map(message => message.atMs - start)).toEqual([0, 360, 500, 860])
    stop()
  })

  it('plays nothing while nobody listens, and rests when it is told to', () => {
    const source = simulatedKeys(1, MACHINE)
    source.prepare([due(0, 60)], performance.now())
    vi.advanceTimersByTime(1000)
    const { keys } = listenTo(source)
    source.prepare([due(0, 60), due(500, 62)], performance.now() + 10)
    vi.advanceTimersByTime(100)
    source.rest()
    vi.advanceTimersByTime(2000)
    expect(keys()).toEqual(['+60', '-60'])
  })
})

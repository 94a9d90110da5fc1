import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { MidiVoice } from './midi-voice'

describe("the player's own instrument", () => {
  beforeEach(() => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance'] })
  })
  afterEach(() => {
    vi.useRealTimers()
  })

  function instrument() {
    const sent: [number, number, number, number][] = []
    const voice = new MidiVoice(
      {
        name: 'Piano',
        send: ([status, key, velocity], ms) => void sent.push([status!, key!, velocity!, Math.round(ms!)]),
      },
      seconds => seconds * 1000,
    )
    return { voice, sent }
  }

  it('is sent each key with its time, a little ahead, and its release', () => {
    const { voice, sent } = instrument()
    voice.place({ pitch: 60, velocity: 80, lengthMs: 500 }, 2)
    vi.advanceTimersByTime(1_850)
    expect(sent).toEqual([])
    vi.advanceTimersByTime(60)
    expect(sent).toEqual([[0x90, 60, 80, 2000]])
    vi.advanceTimersByTime(1_000)
    expect(sent.slice(1)).toEqual([[0x80, 60, 0, 2500]])
  })

  it('never sounds what was taken back, and lets go of what sounds', () => {
    const { voice, sent } = instrument()
    const [later, held] = [
      voice.place({ pitch: 64, velocity: 80, lengthMs: 500 }, 3),
      voice.place({ pitch: 60, velocity: 80, lengthMs: 5_000 }, 0),
    ]
    vi.advanceTimersByTime(1_000)
    later.letGo(1, 'stop')
    held.letGo(1, 'stop')
    vi.advanceTimersByTime(8_000)
    expect(sent).toEqual([
      [0x90, 60, 80, 0],
      [0x80, 60, 0, 1000],
    ])
  })

  it('a key that is let go at once after it was sent still comes up behind it', () => {
    const { voice, sent } = instrument()
    const placed = voice.place({ pitch: 60, velocity: 80, lengthMs: Infinity }, 0.05)
    vi.advanceTimersByTime(10)
    placed.letGo(0.01, 'key')
    expect(sent).toEqual([
      [0x90, 60, 80, 50],
      [0x80, 60, 0, 51],
    ])
  })
})

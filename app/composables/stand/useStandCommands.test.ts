import { describe, expect, it, vi } from 'vitest'
import { ref } from 'vue'
import { STAND_KEYS } from '#core/words/stand-keys'
import { useStandCommands } from './useStandCommands'

function stand({ runs = false, passId = '', beatType = 4 } = {}) {
  const practice = {
    state: ref({ at: runs ? 'playing' : 'stopped' }),
    isRunning: ref(runs),
    mode: ref('own-time'),
    bpm: ref(80),
    isLed: ref(false),
    howOften: ref({ until: 'stopped' }),
    metronome: ref(true),
    lastPassId: ref(passId),
    ...Object.fromEntries(
      [
        'toggle',
        'halt',
        'again',
        'listen',
        'hearAgain',
        'setTempo',
        'changeTempo',
        'changeMode',
        'turnHands',
        'setHowOften',
        'goNext',
        'back',
      ].map(name => [name, vi.fn()]),
    ),
  } as unknown as Parameters<typeof useStandCommands>[0]
  const marked = { mark: vi.fn(), markEdge: vi.fn(), stepEdge: vi.fn(), moveBars: vi.fn(), growBars: vi.fn() }
  const shows = {
    sound: ref(false),
    drill: ref(false),
    help: ref(false),
    song: ref(false),
    pianoKeys: vi.fn(),
    fullscreen: vi.fn(),
    review: vi.fn(),
  }
  const onOften = vi.fn()
  const { keys, ...rest } = useStandCommands(practice, marked, shows, () => ({ beats: 6, beatType }), onOften)
  return { practice, marked, shows, onOften, keys, press: (name: string) => keys.value[name]!(), ...rest }
}

describe('what the Stand can be asked by keys', () => {
  it('is what its help explains, neither more nor less', () => {
    const explained = STAND_KEYS.flatMap(group => group.keys.flatMap(([names]) => names))
    // The key of + without its Shift.
    expect(
      Object.keys(stand({ runs: true }).keys.value)
        .filter(key => key !== '=')
        .toSorted(),
    ).toEqual(explained.toSorted())
  })
  it("Escape is the browser's own while nothing runs", () => {
    expect(stand().keys.value).not.toHaveProperty('Escape')
  })
  it('tempos go by the beats of the meter: four at a time a step, one at a time, double and half', () => {
    const plain = stand()
    for (const key of ['ArrowUp', '-', 'PageUp', 'PageDown']) plain.press(key)
    plain.actions.slower()
    plain.stepTempo(-1)
    expect(vi.mocked(plain.practice.changeTempo).mock.calls.flat()).toEqual([4, -1, 80, -40, -4, -4])
    // In 6/8 a beat is a dotted quarter (common practice).
    const compound = stand({ beatType: 8 })
    compound.press('ArrowUp')
    expect(compound.practice.changeTempo).toHaveBeenCalledWith(6)
  })
  it("how often goes until stopped, five times, ten times, and is then one's own choice", () => {
    const { press, practice, onOften } = stand()
    for (const wanted of [{ until: 'times', count: 5 }, { until: 'times', count: 10 }, { until: 'stopped' }] as const) {
      press('F1')
      expect(practice.setHowOften).toHaveBeenLastCalledWith(wanted)
      practice.howOften.value = wanted
    }
    expect(onOften).toHaveBeenCalledTimes(3)
  })
  it('what would take the page away waits until nothing runs', () => {
    const playing = stand({ runs: true, passId: 'last' })
    for (const key of ['F6', 'Shift+F8', 'End', 'F10']) playing.press(key)
    expect([playing.shows.review, playing.practice.hearAgain].some(act => vi.mocked(act).mock.calls.length > 0)).toBe(
      false,
    )
    expect([playing.shows.drill.value, playing.shows.song.value]).toEqual([false, false])
    const resting = stand({ passId: 'last' })
    for (const key of ['F6', 'Shift+F8', 'End', 'F10']) resting.press(key)
    expect(resting.shows.review).toHaveBeenCalledWith('last')
    expect(resting.practice.hearAgain).toHaveBeenCalledWith('as-played')
    expect([resting.shows.drill.value, resting.shows.song.value]).toEqual([true, true])
    // Nothing was played yet: there is nothing to review.
    const fresh = stand()
    fresh.press('F6')
    expect(fresh.shows.review).not.toHaveBeenCalled()
  })
  it('the ways to play follow each other', () => {
    const { press, practice } = stand()
    for (const mode of ['steady', 'free', 'own-time'] as const) {
      press('F7')
      expect(practice.changeMode).toHaveBeenLastCalledWith(mode)
      practice.mode.value = mode
    }
  })
})

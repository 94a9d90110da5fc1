import { effectScope, ref } from 'vue'
import { describe, expect, it } from 'vitest'
import { makeDrill } from '#core/patterns/drills/drill'
import type { RenderedScore } from '#core/sound/performance'
import { usePreviewSound } from './usePreviewSound'

const SCALE = makeDrill({
  title: 'Scale',
  material: { kind: 'scale', scale: 'major', octaves: 1 },
  keys: { order: 'fifths' },
  meter: { beats: 4, beatType: 4 },
  bpm: 60,
}).arrangement

function hearing() {
  const played: RenderedScore[] = []
  const playing = ref(false)
  const scope = effectScope()
  const made = scope.run(() =>
    usePreviewSound({
      playing,
      problem: ref(''),
      stop: () => {
        playing.value = false
      },
      play: async performance => {
        played.push(performance)
        playing.value = true
      },
    }),
  )!
  return {
    ...made,
    played,
    leave: () => {
      scope.stop()
    },
  }
}

describe('what is made to be heard', () => {
  it('is played, all of it or its first bars, and ended by what began it', async () => {
    const { toggle, isOn, played } = hearing()
    await toggle('scale', async () => ({ made: SCALE }), { bars: 1 })
    expect([isOn('scale'), isOn('another')]).toEqual([true, false])
    // One bar of four quarters at 60.
    expect(played[0]!.lengthMs).toBeCloseTo(4_000, 6)
    await toggle('scale', async () => ({ made: SCALE }))
    expect([isOn('scale'), played.length]).toEqual([false, 1])
    await toggle('scale', async () => ({ made: SCALE }))
    expect(played[1]!.lengthMs).toBeCloseTo(4_000 * SCALE.bars.length, 6)
  })

  it('says why it cannot be made', async () => {
    const { toggle, problem, played } = hearing()
    await toggle('a', async () => ({ reason: 'the pattern is for 3/4' }))
    expect(problem.value).toBe('the pattern is for 3/4')
    await toggle('b', async () => {
      throw new Error('the worker is gone')
    })
    expect(problem.value).toContain('the worker is gone')
    expect(played).toEqual([])
  })

  it('is not played once another was asked for, or the page was left', async () => {
    const { toggle, played, isOn, leave } = hearing()
    let ready = () => {}
    const slow = toggle(
      'slow',
      async () =>
        await new Promise(resolve => {
          ready = () => resolve({ made: SCALE })
        }),
    )
    await toggle('quick', async () => ({ made: SCALE }))
    ready()
    await slow
    expect([played.length, isOn('quick')]).toEqual([1, true])
    const last = toggle(
      'last',
      async () =>
        await new Promise(resolve => {
          ready = () => resolve({ made: SCALE })
        }),
    )
    leave()
    ready()
    await last
    expect(played.length).toBe(1)
  })
})

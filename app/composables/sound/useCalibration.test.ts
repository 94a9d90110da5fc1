import { onScopeDispose } from 'vue'
import { describe, expect, it, vi } from 'vitest'
import { inFakeTime } from '../../../tests/material/fake-time'
import { CALIBRATION } from '#core/ear/calibration'
import { runTo as runClockTo, silentSound } from '../../../tests/material/sound'
import { useCalibration } from './useCalibration'

type Heard = (message: { bytes: number[]; atMs: number }, source: { name: string }) => void
const GAP = 60_000 / CALIBRATION.bpm

describe('measuring the delay of a keyboard', () => {
  const run = inFakeTime()

  function measuring() {
    let heard: Heard | undefined
    const { sound, heard: sounded, tick } = silentSound()
    const hear = (act: Heard) => {
      heard = act
      return () => {
        heard = undefined
      }
    }
    const calibration = run(() =>
      useCalibration({
        keyboards: { hear } as never,
        startSound: () => Promise.resolve(sound),
        isGone: onScopeDispose,
      }),
    )
    return {
      calibration,
      sounded,
      runTo: (ms: number) => runClockTo(ms, tick, vi.advanceTimersByTime),
      tap: (atMs: number, name = 'Piano') => heard?.({ bytes: [0x90, 60, 70], atMs }, { name }),
      isListening: () => heard !== undefined,
    }
  }

  it('clicks, hears taps, and says how late the keyboard is that was tapped', async () => {
    const { calibration, sounded, runTo, tap, isListening } = measuring()
    await calibration.start()
    const first = performance.now() + 800
    for (let beat = 0; beat < CALIBRATION.beats; beat++) {
      runTo(first + beat * GAP + 34)
      tap(first + beat * GAP + 34)
      if (beat === 9) tap(first + beat * GAP + 300, 'Another')
    }
    expect(calibration.beat.value).toBe(CALIBRATION.beats)
    expect(Math.round(calibration.offs.value[0]!)).toBe(34)
    runTo(performance.now() + 1200)
    expect(calibration.measured.value).toMatchObject({ keyboard: 'Piano', delayMs: 34, spreadMs: 0 })
    expect(sounded('click')).toHaveLength(CALIBRATION.beats)
    expect([calibration.isRunning.value, isListening()]).toEqual([false, false])
  })

  it('says that nothing can be said without taps, and is silent when it is stopped', async () => {
    const { calibration, sounded, runTo } = measuring()
    await calibration.start()
    runTo(performance.now() + CALIBRATION.beats * GAP + 2500)
    expect(calibration.measured.value).toMatchObject({ why: 'few' })
    await calibration.start()
    runTo(performance.now() + 1000)
    calibration.stop()
    const at = performance.now()
    runTo(at + 3000)
    expect(sounded('click').every(({ atMs }) => atMs <= at)).toBe(true)
  })
})

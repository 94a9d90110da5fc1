import { onScopeDispose } from 'vue'
import { describe, expect, it, vi } from 'vitest'
import { inFakeTime } from '../../../tests/material/fake-time'
import { CLICK_KEYS } from '#core/sound/performance'
import { runTo as runClockTo, silentSound } from '../../../tests/material/sound'
import { usePhraseRecorder, type RecorderChoice } from './usePhraseRecorder'

type Heard = (message: { bytes: number[]; atMs: number }) => void

/** A recorder with a silent sound that keeps its clicks, one keyboard, and a clock moved by hand. */
function recorder(choice: RecorderChoice, sound: 'there' | 'missing' = 'there') {
  let heard: Heard | undefined
  const silent = silentSound()
  const startSound = () =>
    sound === 'missing' ? Promise.reject(new Error('no audio here')) : Promise.resolve(silent.sound)
  const keyboards = {
    hear: (act: Heard) => {
      heard = act
      return () => {
        heard = undefined
      }
    },
  }
  const made = usePhraseRecorder(() => choice, { keyboards: keyboards as never, startSound, isGone: onScopeDispose })
  const runTo = (pageMs: number) => runClockTo(pageMs, silent.tick, vi.advanceTimersByTime)
  const strike = (pitch: number, atMs: number, heldMs = 200) => {
    runTo(atMs)
    heard?.({ bytes: [0x90, pitch, 70], atMs })
    heard?.({ bytes: [0xb0, 64, 127], atMs })
    runTo(atMs + heldMs)
    heard?.({ bytes: [0x80, pitch, 0], atMs: atMs + heldMs })
  }
  return { ...made, clicks: () => silent.heard('click'), runTo, strike, isListening: () => heard !== undefined }
}

describe('recording a phrase', () => {
  const run = inFakeTime()

  it('to the click: a bar is counted in, and time 0 is the first beat after it', async () => {
    const phrase = run(() => recorder({ bpm: 120, beatsPerBar: 3, click: true }))
    await phrase.start()
    expect(phrase.phase.value).toBe('count-in')
    const first = 350 + 3 * 500
    phrase.runTo(first - 10)
    expect(phrase.phase.value).toBe('count-in')
    phrase.strike(60, first + 12)
    phrase.strike(62, first + 495)
    expect([phrase.phase.value, phrase.noteCount.value]).toEqual(['recording', 2])
    const take = phrase.stop()
    expect(take.notes.map(note => [note.pitch, note.onsetMs, note.durationMs])).toEqual([
      [60, 12, 200],
      [62, 495, 200],
    ])
    expect(take.pedals).toEqual([{ atMs: 12, down: true }])
    expect(
      phrase
        .clicks()
        .slice(0, 5)
        .map(click => [Math.round(click.atMs - first), click.pitch === CLICK_KEYS.downbeat]),
    ).toEqual([
      [-1500, true],
      [-1000, false],
      [-500, false],
      [0, true],
      [500, false],
    ])
    expect([phrase.phase.value, phrase.isListening()]).toEqual(['idle', false])
  })

  it('a note before the first beat is kept before it', async () => {
    const phrase = run(() => recorder({ bpm: 60, beatsPerBar: 2, click: true }))
    await phrase.start()
    phrase.strike(67, 350 + 1500)
    expect(phrase.stop().notes[0]!.onsetMs).toBe(-500)
  })

  it('freely: no click, and time 0 is the first key', async () => {
    const phrase = run(() => recorder({ bpm: 80, beatsPerBar: 4, click: false }))
    await phrase.start()
    expect(phrase.phase.value).toBe('recording')
    phrase.strike(60, 2000)
    phrase.strike(64, 2600)
    expect(phrase.stop().notes.map(note => note.onsetMs)).toEqual([0, 600])
    expect(phrase.clicks()).toEqual([])
  })

  it('begun anew forgets what was played before', async () => {
    const phrase = run(() => recorder({ bpm: 80, beatsPerBar: 4, click: false }))
    await phrase.start()
    phrase.strike(60, 500)
    phrase.stop()
    await phrase.start()
    expect([phrase.noteCount.value, phrase.stop().notes]).toEqual([0, []])
  })

  it('says when the sound cannot be started, and can be tried again', async () => {
    const phrase = run(() => recorder({ bpm: 80, beatsPerBar: 4, click: true }, 'missing'))
    await phrase.start()
    expect([phrase.phase.value, phrase.problem.value]).toEqual([
      'idle',
      'The sound could not be started (no audio here).',
    ])
  })
})

import { nextTick, reactive } from 'vue'
import { describe, expect, it, vi } from 'vitest'
import { inFakeTime } from '../../../tests/material/fake-time'
import { demoScore } from '../../../tests/material/demo'
import { judged, judgeHere } from '../../../tests/material/judge'
import { expectedNotes, spanPassage } from '#core/music/passage'
import { quarters } from '#core/music/quarters'
import { SOUND } from '#shared/utils/sound'
import type { SentPass } from '#shared/utils/passes'
import { runTo as runClockTo, silentSound } from '../../../tests/material/sound'
import { useStandPractice, type StandBeginning, type StandEnvironment } from './useStandPractice'

const { arrangement, musicXml } = demoScore('lantern-ferry.musicxml')
/** The pickup to bar 4, beat 3. */
const PART = { from: quarters(0), to: quarters(16) }
/** Two bars of it: four seconds at 120. */
const BARS = { from: quarters(1), to: quarters(9) }

describe('practice at the Stand', () => {
  const run = inFakeTime()

  /** A Stand with a silent sound, one keyboard, a clock moved by hand, and a server that cannot be reached. */
  function stand(beginning: Partial<StandBeginning> = {}, keyboardNames = ['Piano']) {
    const { sound, tick } = silentSound()
    const kept: SentPass[] = []
    let round: { startMs: number } | undefined
    const keyboards = reactive({
      listening: keyboardNames as unknown[],
      lost: '',
      simulated: {
        prepare: (_: unknown, startMs: number) => {
          round ??= { startMs }
        },
        answer: () => {},
        rest: () => {
          round = undefined
        },
      },
    })
    const practice = run(() =>
      useStandPractice(
        {
          id: 'part',
          name: 'Part',
          stretch: PART,
          song: { id: 'song', title: 'Song' },
          arrangementId: 'a',
          arrangement,
          musicXml,
          roleParts: [],
        },
        { bpm: 120, isLed: false, hands: 'right', ...beginning },
        {
          keyboards: keyboards as never,
          outbox: {
            heardOf: async () => [],
            keep: async pass => {
              kept.push(pass)
            },
          },
          settings: { coach: {}, strictness: 'normal', sound: SOUND, delayMsOf: () => 0 },
          startSound: () => Promise.resolve(sound),
          judge: judgeHere(arrangement),
          request: () => Promise.reject(new Error('no server')),
          newId: () => `pass ${kept.length}`,
        } satisfies StandEnvironment,
      ),
    )!
    const runTo = async (pageMs: number) => {
      runClockTo(pageMs, tick, vi.advanceTimersByTime)
      await judged()
    }
    /** Plays the right hand of a stretch once round, from when its round begins, but for some notes. */
    async function play(stretch: typeof PART, startMs: number, without: number[] = []) {
      for (const [index, note] of expectedNotes(
        arrangement,
        spanPassage(stretch.from, stretch.to, 'right'),
        120,
      ).entries()) {
        await runTo(startMs + note.onsetMs)
        if (without.includes(index)) continue
        practice.loop.hear({ bytes: [0x90, note.pitch, 70], atMs: performance.now() })
        practice.loop.hear({ bytes: [0x80, note.pitch, 0], atMs: performance.now() + 100 })
      }
    }
    return { practice, keyboards, kept, runTo, play, begins: () => round!.startMs, at: () => practice.state.value.at }
  }

  it('does not begin where nothing can be heard, and says why', async () => {
    const { practice, kept, runTo } = stand({}, [])
    practice.toggle()
    await runTo(20_000)
    expect([practice.state.value, practice.loop.phase.value, kept]).toEqual([
      { at: 'resting', rest: { why: 'no-keyboard' } },
      'stopped',
      [],
    ])
  })

  it('ends after as many times as were asked for, and keeps each pass with where it lay', async () => {
    const { practice, kept, runTo, play, begins, at } = stand({ stretch: BARS, howOften: { until: 'times', count: 2 } })
    practice.toggle()
    await judged()
    const startMs = begins()
    await play(BARS, startMs)
    await play(BARS, startMs + 4000, [1, 2])
    await runTo(startMs + 9000)
    expect(practice.state.value).toEqual({ at: 'resting', rest: { why: 'done' } })
    expect(practice.played.value).toMatchObject({ times: 2, clean: 1, atEnd: 0 })
    expect(kept.map(pass => [pass.stretch, pass.bpm, pass.partId])).toEqual([
      [BARS, 120, 'part'],
      [BARS, 120, 'part'],
    ])
    // Begun again it counts anew.
    practice.toggle()
    expect([practice.played.value.times, at()]).toEqual([0, 'starting'])
  })

  it('is interrupted when the keyboard is unplugged, keeps nothing of that pass, and goes on when it is back', async () => {
    const { practice, keyboards, kept, runTo, play, begins, at } = stand()
    practice.toggle()
    await judged()
    await play(BARS, begins())
    keyboards.lost = 'Piano'
    await nextTick()
    expect(practice.state.value).toEqual({ at: 'interrupted', mode: 'steady', keyboard: 'Piano' })
    await runTo(performance.now() + 20_000)
    expect(kept).toEqual([])
    keyboards.lost = ''
    await nextTick()
    await judged()
    expect(at()).toBe('count-in')
  })

  it("stays at bars of the player's own choice, and goes back to what was played before", () => {
    const { practice } = stand({ isLed: true, hands: 'both', bpm: 72 })
    practice.choose({ stretch: BARS, hands: 'left', bpm: 60, howOften: { until: 'clean-in-a-row', count: 5 } })
    practice.choose({ stretch: { from: quarters(5), to: quarters(9) } })
    expect([
      practice.stretch.value,
      practice.hands.value,
      practice.bpm.value,
      practice.isLed.value,
      practice.howOften.value,
    ]).toEqual([{ from: quarters(5), to: quarters(9) }, 'left', 60, false, { until: 'clean-in-a-row', count: 5 }])
    practice.back()
    expect([
      practice.stretch.value,
      practice.hands.value,
      practice.bpm.value,
      practice.isLed.value,
      practice.howOften.value,
      practice.before.value,
    ]).toEqual([PART, 'both', 72, true, { until: 'stopped' }, undefined])
  })

  it('marks the passes of a place that the player calls hard', async () => {
    const { practice, kept, runTo, play, begins } = stand({ stretch: BARS })
    practice.callHard()
    practice.toggle()
    await judged()
    const startMs = begins()
    await play(BARS, startMs)
    await runTo(startMs + 4600)
    expect(kept.map(pass => pass.isOwnSpot)).toEqual([true])
  })
})

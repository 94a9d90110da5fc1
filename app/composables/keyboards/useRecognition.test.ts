import { onScopeDispose } from 'vue'
import { describe, expect, it, vi } from 'vitest'
import { inFakeTime } from '../../../tests/material/fake-time'
import { demoScore } from '../../../tests/material/demo'
import { barsMarked } from '#core/music/marked'
import { expectedNotes, spanPassage } from '#core/music/passage'
import type { Arrangement } from '#core/music/arrangement'
import { proposeParts } from '#core/parts/propose'
import { recognisedSpans } from '#core/recognise/heard'
import { NoteIndex } from '#core/recognise/note-index'
import type { SentPass } from '#shared/utils/passes'
import { SOUND } from '#shared/utils/sound'
import { useRecognition, type Recogniser } from './useRecognition'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const PARTS = proposeParts(arrangement).map((part, place) => ({ ...part, id: `part ${place}` }))
type Heard = (message: { bytes: number[]; atMs: number }) => void

/** The worker's recogniser, where the test runs. */
function recogniserHere(): Recogniser {
  const known = new Map<string, Arrangement>()
  return {
    missing: ids => ids.filter(id => !known.has(id)),
    add: (id, notes) => void known.set(id, notes),
    hear: (take, strictness) => {
      const index = new NoteIndex()
      const ids = [...known.keys()]
      ids.forEach((id, number) => index.add(number, known.get(id)!))
      return recognisedSpans(
        index,
        ids.map(id => known.get(id)!),
        take,
        strictness,
      ).map(({ score, ...heard }) => ({ ...heard, arrangementId: ids[score]! }))
    },
  }
}

describe('what is played by the way', () => {
  const run = inFakeTime()

  function page(heard: 'ask' | 'always' | 'off' = 'ask') {
    let told: Heard | undefined
    const kept: SentPass[] = []
    const hears = { now: true }
    const asked: string[] = []
    const hear = (act: Heard) => {
      told = act
      return () => {
        told = undefined
      }
    }
    const request = (url: string) => {
      asked.push(url)
      return Promise.resolve(
        url === '/api/hearable'
          ? [{ songId: 'song', title: 'The Lantern Ferry', edition: '', arrangementId: 'ferry' }]
          : { parts: PARTS, arrangement },
      )
    }
    const recogniser = recogniserHere()
    const heardHere = run(() =>
      useRecognition(() => hears.now, {
        keyboards: { hear } as never,
        outbox: {
          keep: async pass => {
            kept.push(pass)
          },
        },
        settings: { strictness: 'normal', sound: { ...SOUND, heard } },
        request: request as never,
        recogniser: () => recogniser,
        newId: () => `id ${Math.random()}`,
        isGone: onScopeDispose,
      }),
    )!
    heardHere.start()
    /** Plays bars, by index, and rests until what was played has been looked at. */
    async function play(first: number, last: number, bpm = 80, restMs = 3_000) {
      const stretch = barsMarked(arrangement, first, last)
      const startMs = performance.now()
      for (const { pitch, onsetMs, durationMs } of expectedNotes(
        arrangement,
        spanPassage(stretch.from, stretch.to, 'right'),
        bpm,
      )) {
        told?.({ bytes: [0x90, pitch, 70], atMs: startMs + onsetMs })
        told?.({ bytes: [0x80, pitch, 0], atMs: startMs + onsetMs + durationMs * 0.9 })
        vi.advanceTimersByTime(Math.max(0, Math.ceil(startMs + onsetMs - performance.now())))
      }
      await vi.advanceTimersByTimeAsync(restMs)
    }
    return { ...heardHere, kept, hears, asked, play, isHearing: () => told !== undefined }
  }

  it('is known by song and bars, offered, and kept only when the player says yes', async () => {
    const { offers, keep, kept, play, asked } = page()
    await play(9, 16)
    expect(offers.value).toMatchObject([
      {
        title: 'The Lantern Ferry',
        hands: 'right',
        place: { from: { bar: arrangement.bars[9]!.number }, to: { bar: arrangement.bars[16]!.number } },
      },
    ])
    expect(offers.value[0]!.bpm).toBeCloseTo(80, 0)
    expect(kept).toEqual([])
    keep(offers.value[0]!)
    expect(kept).toMatchObject([{ mode: 'free', hands: 'right', stretch: barsMarked(arrangement, 9, 16) }])
    expect(PARTS.some(part => part.id === kept[0]!.partId)).toBe(true)
    expect(offers.value).toEqual([])
    expect(asked).toEqual(['/api/hearable', '/api/hearable/ferry'])
  })

  it('played twice it is offered once, and both times are kept', async () => {
    const { offers, keep, kept, play } = page()
    await play(9, 14)
    await play(9, 14, 70)
    expect(offers.value.map(offer => offer.passes.length)).toEqual([2])
    keep(offers.value[0]!)
    expect(kept).toHaveLength(2)
  })

  it('what the player does not want is not offered again', async () => {
    const { offers, dismiss, kept, play } = page()
    await play(9, 14)
    dismiss(offers.value[0]!)
    await play(20, 25)
    expect(offers.value.map(offer => offer.place.from.bar)).toEqual([arrangement.bars[20]!.number])
    expect(kept).toEqual([])
  })

  it('is kept by itself where the player has said so, and not listened to where they have said that', async () => {
    const always = page('always')
    await always.play(9, 14, 80, 25_000)
    expect(always.kept).toHaveLength(1)
    const off = page('off')
    await off.play(9, 14)
    expect([off.offers.value, off.keyCount.value]).toEqual([[], 0])
  })

  it('is heard by one page only', async () => {
    const { offers, hears, play } = page()
    hears.now = false
    await play(9, 14)
    expect(offers.value).toEqual([])
  })

  it('the last ten minutes are there as a take, and nothing older', async () => {
    const { lastMinutes, play } = page()
    await play(2, 3)
    const first = lastMinutes().notes.length
    await vi.advanceTimersByTimeAsync(11 * 60_000)
    await play(4, 5)
    expect(first).toBeGreaterThan(4)
    expect(lastMinutes().notes[0]!.pitch).toBe(
      expectedNotes(arrangement, spanPassage(arrangement.bars[4]!.start, arrangement.bars[6]!.start, 'right'), 80)[0]!
        .pitch,
    )
  })
})

/** The ear against what others have published or made. Each source stands beside its check. */
import { linearRegression } from 'simple-statistics'
import { describe, expect, it } from 'vitest'
import { assessTake } from '#core/ear/assess'
import { earFor, onTimeMs, STRICTNESSES } from '#core/ear/parameters'
import { lineThrough, type Point } from '#core/ear/statistics'
import type { TakeNote } from '#core/ear/take'
import { readTake } from '#core/formats/midi/read-take'
import { expectedNotes, wholePassage, type ExpectedNote } from '#core/music/passage'
import { swingRatioAtTempo } from '#core/music/swing'
import { demoScore, DEMO_FILES } from '../material/demo'
import { engraverMidi } from '../material/engraver'

/**
 * The smallest timing displacement that is noticed: about 6 ms below intervals of 240 ms, about 2.5 % above (Friberg &
 * Sundberg 1995, J. Acoust. Soc. Am. 98, unchecked).
 */
const noticeableMs = (intervalMs: number) => (intervalMs < 240 ? 6 : 0.025 * intervalMs)

describe('the smallest noticeable displacement (Friberg & Sundberg 1995, unchecked)', () => {
  it('lies well within every tolerance for single notes, at every tempo and strictness', () => {
    for (const strictness of STRICTNESSES) {
      for (const bpm of [30, 60, 90, 120, 180, 240])
        expect(onTimeMs(earFor(strictness), 60_000 / bpm)).toBeGreaterThan(1.5 * noticeableMs(60_000 / bpm))
    }
  })

  it.each(DEMO_FILES)('never costs a player of %s a clean pass', file => {
    const { arrangement } = demoScore(file)
    const passage = wholePassage(arrangement, 'both')
    for (const bpm of [50, 80, 110, 160]) {
      const expected = expectedNotes(arrangement, passage, bpm)
      const times = [...new Set(expected.map(note => note.eventMs))]
      const eventOf = ({ eventMs }: ExpectedNote) => times.indexOf(eventMs)
      const notes = expected
        .map((note): TakeNote => ({
          onsetMs: note.onsetMs + noticeableMs(60_000 / bpm) * (eventOf(note) % 2 ? 1 : -1),
          durationMs: 0.9 * note.durationMs,
          pitch: note.pitch,
          velocity: 70,
        }))
        .filter(
          (note, index, all) =>
            !all
              .slice(0, index)
              .some(other => other.pitch === note.pitch && Math.abs(other.onsetMs - note.onsetMs) < 100),
        )
        .sort((a, b) => a.onsetMs - b.onsetMs || a.pitch - b.pitch)
      for (const strictness of STRICTNESSES) {
        expect(
          assessTake({ arrangement, passage, take: { notes, pedals: [] }, mode: 'steady', bpm, strictness }).summary
            .clean,
        ).toBe(true)
      }
    }
  })
})

describe("verovio's own performance of the demo songs, read from its MIDI file", () => {
  it.each(DEMO_FILES)('%s has every note right, with and without a click', async file => {
    const { arrangement, musicXml } = demoScore(file)
    const passage = wholePassage(arrangement, 'both')
    const take = readTake(await engraverMidi(musicXml))
    const bpm = arrangement.tempos[0]!.quarterBpm
    for (const mode of ['steady', 'free'] as const) {
      const { notes, summary, score } = assessTake({
        arrangement,
        passage,
        take,
        mode,
        bpm: mode === 'steady' ? bpm : undefined,
      })
      expect(notes.filter(note => note.outcome !== 'right' && !note.sharedKey)).toEqual([])
      expect(summary).toMatchObject({ extra: 0, restarts: 0, clean: true })
      expect(Math.abs(summary.driftPercent)).toBeLessThan(0.3)
      expect(summary.unsteadinessMs).toBeLessThan(2)
      expect(score.bpm).toBeCloseTo(bpm, 0)
      if (file.includes('shuffle')) expect(summary.swingRatio).toBeCloseTo(2, 1)
    }
  })
})

describe('swing (Friberg & Sundström 2002, Music Perception 19, unchecked)', () => {
  it('falls with tempo to even eighths, and the short note does not fall below 100 ms', () => {
    const tempos = [60, 100, 140, 180, 200, 220, 260, 300, 340]
    const ratios = tempos.map(swingRatioAtTempo)
    for (let index = 1; index < ratios.length; index++) expect(ratios[index]!).toBeLessThanOrEqual(ratios[index - 1]!)
    expect(ratios[0]).toBe(2)
    expect(swingRatioAtTempo(300)).toBe(1)
    for (const bpm of [200, 220, 260, 300])
      expect(60_000 / bpm / (1 + swingRatioAtTempo(bpm))).toBeGreaterThanOrEqual(100 - 1e-9)
  })
})

describe('the fitted line (simple-statistics as reference)', () => {
  it('is the least-squares line where nothing is an outlier', () => {
    const points = Array.from({ length: 60 }, (_, x): Point => [x, 12 - 0.04 * x + Math.sin(x * 1.7)])
    const { m, b } = linearRegression(points.map(([x, y]) => [x, y]))
    const { slope, intercept } = lineThrough(points)
    expect(slope).toBeCloseTo(m, 2)
    expect(intercept).toBeCloseTo(b, 0)
  })
})

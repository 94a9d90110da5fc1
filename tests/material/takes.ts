/** Takes written out by hand: each says itself what was struck, when. */
import { readMusicXml } from '#core/formats/musicxml/read'
import type { TakeNote } from '#core/ear/take'
import { expectedNotes, wholePassage, type ExpectedNote } from '#core/music/passage'
import { attributes, bytesOf, pianoScore } from './score'

/** A piano score of bars; `key`: meter, key signature and staves of the first. */
export const score = (bars: string[], key: Parameters<typeof attributes>[0] = {}) =>
  readMusicXml(bytesOf(pianoScore(bars.map((bar, index) => (index === 0 ? attributes(key) : '') + bar)))).arrangement
export type Score = ReturnType<typeof score>
export type Change = (written: ExpectedNote, index: number) => Partial<TakeNote> | undefined

/** The written notes as strokes at 120 quarter notes a minute, each changed as told; undefined leaves one out. */
export function played(arrangement: Score, change: Change = () => ({}), extra: TakeNote[] = []): TakeNote[] {
  const strokes = expectedNotes(arrangement, wholePassage(arrangement, 'both'), 120).flatMap((written, index) => {
    const changed = change(written, index)
    // Nobody is exact: a few ms to either side, the same at every run.
    const asPlayed = {
      onsetMs: written.eventMs + ((index * 7) % 11) - 5,
      durationMs: written.durationMs * 0.95,
      pitch: written.pitch,
      velocity: 64,
    }
    return changed ? [{ ...asPlayed, ...changed }] : []
  })
  return [...strokes, ...extra].sort((a, b) => a.onsetMs - b.onsetMs || a.pitch - b.pitch)
}

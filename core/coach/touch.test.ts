/** When touch is asked for: right notes first, then even, then faster, then music (common practice). */
import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { proposeParts } from '../parts/propose'
import { reasonText } from '../words/coach'
import type { PastPass } from './pass'
import { coachSettings } from './settings'
import { afterSongPass, requiresTouch, progressOf, planSong, startSong, type SongProgress } from './song-plan'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const parts = proposeParts(arrangement).map((part, place) => ({ ...part, id: `part ${place}` }))
const plan = planSong(arrangement, parts, coachSettings({ ownTimeGate: 0, gate: 3 }))
const stage = plan.stages[0]!
const song = plan.stages.find(one => one.unit.kind === 'song')!
const pass = (own: Partial<PastPass> = {}): PastPass => ({
  key: stage.key,
  stretch: stage.unit.stretch,
  hands: stage.hands,
  mode: 'steady',
  bpm: plan.ranges.get(stage.key)!.steps[0]!,
  clean: true,
  cleanBut: ['released-early'],
  strictness: 'normal',
  right: 20,
  notes: 20,
  failed: [],
  atMs: 0,
  lengthMs: 10_000,
  ...own,
})
const after = (standing: SongProgress, own: Partial<PastPass> = {}) =>
  progressOf(afterSongPass(plan, standing, pass(own)), stage)

describe('a pass that is clean but for its touch', () => {
  it('counts while the song is being learned', () => {
    expect(after(startSong(plan)).cleanBpm).toBe(pass().bpm)
  })
  it('is asked for once more where the player is judged strictly, and it is said what is missing', () => {
    const strict = after(startSong(plan), { strictness: 'strict' })
    expect(strict.cleanBpm).toBe(0)
    expect(strict.because).toEqual({ kind: 'clean-but', faults: ['released-early'] })
    expect(reasonText(strict.because)).toBe('clean; now with the notes held too')
    expect(after(startSong(plan), { strictness: 'strict', cleanBut: [] }).cleanBpm).toBeGreaterThan(0)
  })
  it('is asked for once more when the whole song has been played', () => {
    const start = startSong(plan)
    const known = {
      ...start,
      stages: new Map(start.stages).set(song.key, { ...progressOf(start, song), reachedBpm: 50 }),
    }
    expect(requiresTouch(plan, known, pass())).toBe(true)
    expect(requiresTouch(plan, known, pass({ mode: 'own-time' }))).toBe(false)
    expect(after(known).cleanBpm).toBe(0)
  })
})

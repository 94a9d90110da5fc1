import { describe, expect, it } from 'vitest'
import { demoScore, DEMO_FILES } from '../../tests/material/demo'
import { expectedNotes, wholePassage } from '../music/passage'
import { difficulties } from './difficulty'
import { strikesOf } from './strikes'
import { CHARACTERS, type Character } from './habits'
import { simulatePlayer } from './simulate'

describe('how hard a moment is to reach', () => {
  it.each(DEMO_FILES)('ranks the moments of %s from -1 to 1, leaps and chords above repeated notes', file => {
    const { arrangement } = demoScore(file)
    const expected = expectedNotes(arrangement, wholePassage(arrangement, 'both'), 100)
    const events = strikesOf(expected)
    const ranks = difficulties(expected, events)
    expect(Math.min(...ranks)).toBe(-1)
    expect(Math.max(...ranks)).toBe(1)
    const hardest = events[ranks.indexOf(1)]!
    const easiest = events[ranks.indexOf(-1)]!
    expect(hardest.notes.length).toBeGreaterThanOrEqual(easiest.notes.length)
  })

  it('of one moment or none is nothing', () => {
    expect(difficulties([], [])).toEqual([])
  })
})

describe('characters at the demo songs', () => {
  it.each(Object.keys(CHARACTERS) as Character[])(
    '%s plays every song through, with the truth in step with the take',
    character => {
      for (const file of DEMO_FILES) {
        const { arrangement } = demoScore(file)
        const expected = expectedNotes(arrangement, wholePassage(arrangement, 'both'), 80)
        const { take, truth } = simulatePlayer(expected, CHARACTERS[character], 11)
        const placed = [
          ...truth.notes.flatMap(note => note.played ?? []),
          ...truth.extras,
          ...truth.restarted,
          ...truth.restruck,
          ...truth.repeated,
        ].sort((a, b) => a - b)
        expect(placed).toEqual(take.notes.map((_, index) => index))
        expect(take.notes.every(note => note.velocity >= 1 && note.velocity <= 127 && note.durationMs > 0)).toBe(true)
        truth.notes.forEach((note, index) => {
          if (note.played !== null)
            expect(take.notes[note.played]!.pitch === expected[index]!.pitch).toBe(note.outcome === 'right')
        })
      }
    },
  )
})

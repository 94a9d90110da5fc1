import { describe, expect, it } from 'vitest'
import { attributes, bytesOf, note, pianoScore, quarterNotes } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import { expectedNotes, wholePassage } from '../music/passage'
import { assessTake } from './assess'
import { waitForKeys } from './own-time'
import type { Take } from './take'
import { findingText } from '../words/findings'

/** C4, then the chord C4 E4 G4, then D4 with a trill, then E4. */
const { arrangement } = readMusicXml(
  bytesOf(
    pianoScore([
      attributes() +
        quarterNotes('C4') +
        ['C4', 'E4', 'G4'].map((pitch, index) => note({ pitch, length: 1, chord: index > 0 })).join('') +
        note({ pitch: 'D4', length: 1, extra: '<notations><ornaments><trill-mark/></ornaments></notations>' }) +
        quarterNotes('E4'),
    ]),
  ),
)
const passage = wholePassage(arrangement, 'both')
const take = (...keys: [pitch: number, onsetMs: number][]): Take => ({
  notes: keys.map(([pitch, onsetMs]) => ({ pitch, onsetMs, durationMs: 200, velocity: 64 })),
  pedals: [],
})
const assess = (played: Take) => assessTake({ arrangement, passage, take: played, mode: 'own-time' })
const RIGHT: [number, number][] = [
  [60, 0],
  [67, 3000],
  [60, 3400],
  [64, 5000],
  [62, 6000],
  [64, 9000],
]

describe("in the player's own time", () => {
  it('waits for the keys of a moment, in any order, and says which are still to come', () => {
    const waiting = waitForKeys(expectedNotes(arrangement, passage))
    expect(waiting.hear(60)).toMatchObject({ kind: 'right', completes: true })
    expect(waiting.wanted()).toEqual([60, 64, 67])
    expect(waiting.hear(67)).toMatchObject({ kind: 'right', completes: false })
    expect(waiting.hear(67).kind).toBe('neutral')
    expect(waiting.hear(66).kind).toBe('wrong')
    expect([waiting.at(), waiting.wanted()]).toEqual([1, [60, 64]])
    expect([waiting.hear(60).kind, waiting.hear(64)]).toMatchObject(['right', { completes: true }])
    // The notes of the trill belong to it, also when the next note is waited for.
    expect([waiting.hear(62).kind, waiting.hear(63).kind]).toEqual(['right', 'neutral'])
    expect(waiting.isOver()).toBe(false)
    waiting.hear(64)
    expect([waiting.isOver(), waiting.hear(64).kind]).toEqual([true, 'neutral'])
  })
  it('is clean however long it takes, and no wait is scolded', () => {
    const { summary, findings, notes, mode } = assess(take(...RIGHT))
    expect(mode).toBe('own-time')
    expect(summary).toMatchObject({ clean: true, right: 6, missed: 0, extra: 0, score: 100 })
    expect(findings[0]).toMatchObject({ kind: 'clean' })
    expect(notes.every(one => one.deviationMs === null)).toBe(true)
    expect(findings.map(one => findingText(one)).join(' ')).not.toMatch(/late|slow|mistake/)
  })
  it('names where the hand needed longest', () => {
    const { findings } = assess(take([60, 0], [60, 900], [64, 900], [67, 900], [62, 1800], [64, 9000]))
    expect(findings.find(one => one.kind === 'hesitation')).toMatchObject({ bar: 1, beat: 4, ms: 7200 })
  })
  it('a wrong key is named at the place it came before, and every played key is in one place', () => {
    const played = take(...RIGHT.slice(0, 4), [70, 5500], ...RIGHT.slice(4))
    const { summary, findings, extras, notes } = assess(played)
    expect(summary).toMatchObject({ clean: false, right: 6, extra: 1 })
    expect(findings[0]).toMatchObject({ kind: 'wrong-note', bar: 1, beat: 3 })
    expect(findingText(findings[0]!)).toContain('came before the right key')
    expect([...notes.map(one => one.played), ...extras.map(one => one.played)].sort()).toEqual(
      played.notes.map((_, index) => index),
    )
  })
  it('what was not reached is missed; an empty take is no error', () => {
    expect(assess(take(...RIGHT.slice(0, 3))).summary).toMatchObject({ right: 3, missed: 3, clean: false })
    expect(findingText(assess(take()).findings[0]!)).toBe('Nothing was played yet.')
  })
  it('a key of both hands is struck once', () => {
    const both = readMusicXml(
      bytesOf(
        pianoScore([
          attributes({ staves: 2 }) +
            note({ pitch: 'C4', length: 4, staff: 1 }) +
            '<backup><duration>480</duration></backup>' +
            note({ pitch: 'C4', length: 4, staff: 2 }),
        ]),
      ),
    ).arrangement
    const { summary, notes } = assessTake({
      arrangement: both,
      passage: wholePassage(both, 'both'),
      take: take([60, 0]),
      mode: 'own-time',
    })
    expect(summary.clean).toBe(true)
    expect(notes.filter(one => one.sharedKey)).toHaveLength(1)
  })
})

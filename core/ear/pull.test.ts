/** Two against three: which hand pulls the other off. The takes are written by hand here, stroke by stroke. */
import { describe, expect, it } from 'vitest'
import { demoScore, DEMO_FILES } from '../../tests/material/demo'
import { expectedNotes, wholePassage } from '../music/passage'
import { makeDrill } from '../patterns/drills/drill'
import { findingText } from '../words/findings'
import { assessTake } from './assess'

const drill = (right: number, left: number, beats: 1 | 2) =>
  makeDrill({
    title: '',
    material: { kind: 'against', right, left, beats },
    keys: { order: 'one' },
    meter: { beats: 4, beatType: 4 },
    bpm: 60,
  }).arrangement
const THREE_TWO = drill(3, 2, 1)

/** A take whose strokes are moved as `off` says, ms, from what is due. */
function heard(arrangement: typeof THREE_TWO, off: (hand: 'right' | 'left', inBeat: number, index: number) => number) {
  const passage = wholePassage(arrangement, 'both')
  const notes = expectedNotes(arrangement, passage, 60)
    .map(({ hand, pitch, onsetMs, durationMs, eventMs: eventMs }, index) => ({
      onsetMs: onsetMs + off(hand, Math.round(eventMs % 1000), index),
      durationMs: durationMs * 0.8,
      pitch,
      velocity: 64,
    }))
    .sort((a, b) => a.onsetMs - b.onsetMs)
  return assessTake({ arrangement, passage, take: { notes, pedals: [] }, mode: 'steady', bpm: 60 }).findings
}
const pulled = (findings: ReturnType<typeof heard>) => findings.find(finding => finding.kind === 'hand-pulled')
/** A little unsteadiness, the same each time. */
const wobble = (index: number) => 9 * Math.sin(index * 2.3)

describe('three against two', () => {
  it('the right hand drawn to the left: its second note late and its third early, towards the two', () => {
    const finding = pulled(
      heard(
        THREE_TWO,
        (hand, inBeat, index) =>
          wobble(index) + (hand === 'right' && inBeat === 333 ? 70 : hand === 'right' && inBeat === 667 ? -70 : 0),
      ),
    )
    expect(finding).toMatchObject({ hand: 'right', own: 3, other: 2 })
    expect(findingText(finding!)).toMatch(
      /^The right hand’s three are drawn toward the other hand’s two: between the beats they lie (6|7|8)\d ms off\. Play the right hand alone/,
    )
  })
  it('the left hand drawn to the right: its second note comes with the third of the three', () => {
    expect(
      pulled(heard(THREE_TWO, (hand, inBeat, index) => wobble(index) + (hand === 'left' && inBeat === 500 ? 90 : 0))),
    ).toMatchObject({ hand: 'left', own: 2, other: 3 })
  })
  it('says nothing of hands that are even, that are late together, or of one that is late throughout', () => {
    expect(pulled(heard(THREE_TWO, (_hand, _inBeat, index) => wobble(index)))).toBeUndefined()
    expect(pulled(heard(THREE_TWO, (_hand, _inBeat, index) => 35 + wobble(index)))).toBeUndefined()
    expect(
      pulled(heard(THREE_TWO, (hand, _inBeat, index) => (hand === 'left' ? 80 : 0) + wobble(index))),
    ).toBeUndefined()
  })
  it('says nothing of notes that stray either way', () => {
    expect(
      pulled(heard(THREE_TWO, (hand, _inBeat, index) => (hand === 'right' ? (index % 2 ? 60 : -60) : 0))),
    ).toBeUndefined()
  })
})

it('four against three is heard too', () => {
  const finding = pulled(
    heard(
      drill(4, 3, 2),
      (hand, inBeat, index) =>
        wobble(index) + (hand === 'left' && inBeat === 667 ? -90 : hand === 'left' && inBeat === 333 ? 90 : 0),
    ),
  )
  expect(finding).toMatchObject({ kind: 'hand-pulled', hand: 'left', own: 3, other: 4 })
})

it.each(DEMO_FILES)('%s, played unsteadily, has no such thing', file => {
  const { arrangement } = demoScore(file)
  expect(pulled(heard(arrangement, (_hand, _inBeat, index) => 45 * Math.sin(index * 1.7)))).toBeUndefined()
})

import { describe, expect, it } from 'vitest'
import { DEMO_FILES, demoScore } from '../../tests/material/demo'
import { attributes, bytesOf, note, pianoScore, quarterNotes } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import { positionOf } from '../music/arrangement'
import { quarters, toDecimal } from '../music/quarters'
import {
  beatNear,
  beginSection,
  cutPart,
  faultOf,
  keepKnown,
  mergeWithNext,
  middleOf,
  moveEdge,
  renameSection,
  reorder,
  sectionRuns,
  uncovered,
  withOwnPart,
} from './edit'
import { phraseEnds } from './phrase-ends'
import { proposeParts } from './propose'

const { arrangement } = demoScore(DEMO_FILES[0]!)
const parts = proposeParts(arrangement)
const edges = (list: readonly { name: string; from: { n: number; d: number }; to: { n: number; d: number } }[]) =>
  list.map(part => `${part.name} ${toDecimal(part.from)}–${toDecimal(part.to)}`)

describe('parts as the player arranges them', () => {
  it('an edge takes its neighbour along', () => {
    const moved = moveEdge(arrangement, parts, 0, 'to', quarters(15))
    expect([moved[0]!.to, moved[1]!.from]).toEqual([quarters(15), quarters(15)])
    expect(moved.slice(2)).toEqual(parts.slice(2))
  })
  it("an edge stops a beat before a part would be empty, and at the song's ends", () => {
    expect(moveEdge(arrangement, parts, 1, 'from', quarters(900))[1]!.from).toEqual(quarters(31))
    expect(moveEdge(arrangement, parts, 1, 'from', quarters(-3))[1]!.from).toEqual(quarters(1))
    expect(moveEdge(arrangement, parts, 0, 'from', quarters(-3))[0]!.from).toEqual(quarters(0))
  })
  it('goes from beat to beat through a pickup, in the meter', () => {
    expect(positionOf(arrangement, beatNear(arrangement, quarters(1), -1))).toEqual({ bar: 0, beat: 4 })
    expect(positionOf(arrangement, beatNear(arrangement, quarters(7, 3), 1))).toEqual({ bar: 1, beat: 3 })
  })
  it('gives way to bars that become a part of their own, and keeps its name where something of it is left', () => {
    const known = parts.map((part, place) => ({ ...part, id: `p${place}` }))
    const across = withOwnPart(known, { from: quarters(12), to: quarters(20) }, 'Mine')
    expect(edges(across).slice(0, 3)).toEqual([
      'Verse 1, a 0–12',
      'Mine 12–20',
      `${parts[1]!.name} 20–${toDecimal(parts[1]!.to)}`,
    ])
    expect(across.slice(0, 3).map(part => part.id)).toEqual(['p0', undefined, 'p1'])
    const inside = withOwnPart(known, { from: quarters(4), to: quarters(8) }, 'Mine')
    expect(edges(inside).slice(0, 3)).toEqual(['Verse 1, a 0–4', 'Mine 4–8', 'Verse 1, a (2) 8–16'])
    expect(inside.slice(0, 3).map(part => part.id)).toEqual(['p0', undefined, undefined])
    const over = withOwnPart(known, { from: quarters(0), to: known[1]!.to }, 'Mine')
    expect([over[0]!.name, over[1]!.id, over.length]).toEqual(['Mine', 'p2', known.length - 1])
    for (const made of [across, inside, over]) expect(faultOf(arrangement, made)).toBeUndefined()
  })
  it('is cut, merged again, and put in another order', () => {
    const cut = cutPart(parts, 0, quarters(8))
    expect(edges(cut).slice(0, 2)).toEqual(['Verse 1, a, 1 0–8', 'Verse 1, a, 2 8–16'])
    expect(edges(mergeWithNext(cut, 0)).map(text => text.replace(', 1 ', ' '))).toEqual(edges(parts))
    expect(cutPart(parts, 0, quarters(16))).toEqual(parts)
    expect(
      reorder(parts, 2, 0)
        .map(part => part.name)
        .slice(0, 3),
    ).toEqual([parts[2], parts[0], parts[1]].map(part => part!.name))
  })
  it('says what is wrong with a list', () => {
    expect(faultOf(arrangement, parts)).toBeUndefined()
    expect(faultOf(arrangement, [])).toContain('at least one part')
    expect(faultOf(arrangement, [{ ...parts[0]!, to: quarters(5000) }])).toContain('beyond the song')
    expect(faultOf(arrangement, [{ ...parts[0]!, from: parts[0]!.to }])).toContain('ends before it begins')
    expect(faultOf(arrangement, [{ ...parts[0]!, name: ' ' }])).toContain('needs a name')
  })
})

describe('sections of parts', () => {
  const named = (list: readonly { section?: string }[]) =>
    sectionRuns(list).map(run => `${run.name ?? '-'} ${run.first}+${run.count}`)
  it('are the parts in a row that lie in one', () => {
    expect(named(parts)).toEqual(['Verse 1 0+2', 'Verse 2 2+2', 'Bridge 4+2', 'Verse 3 6+2'])
    expect(named([])).toEqual([])
    expect(named([{}, {}, { section: 'A' }, {}])).toEqual(['- 0+2', 'A 2+1', '- 3+1'])
  })
  it('are called otherwise, begun and taken away', () => {
    expect(named(renameSection(parts, 5, ' Middle '))).toEqual([
      'Verse 1 0+2',
      'Verse 2 2+2',
      'Middle 4+2',
      'Verse 3 6+2',
    ])
    expect(named(beginSection(parts, 3, 'Turn'))).toEqual([
      'Verse 1 0+2',
      'Verse 2 2+1',
      'Turn 3+1',
      'Bridge 4+2',
      'Verse 3 6+2',
    ])
    expect(named(renameSection(parts, 2, 'Verse 1'))).toEqual(['Verse 1 0+4', 'Bridge 4+2', 'Verse 3 6+2'])
    expect(named(renameSection(parts, 0, ''))[0]).toBe('- 0+2')
  })
  it('go with the pieces of a part that is cut', () =>
    expect(
      cutPart(parts, 0, quarters(8))
        .slice(0, 2)
        .map(part => part.section),
    ).toEqual(['Verse 1', 'Verse 1']))
  it('are those of a new proposal, in which known parts keep their id and name', () => {
    const before = [{ id: 'mine', name: 'Mine', section: 'Old', from: parts[1]!.from, to: parts[1]!.to }]
    expect(keepKnown([{ ...before[0]!, name: 'Part 2' }], parts)[1]).toMatchObject({ id: 'mine', name: parts[1]!.name })
    expect(keepKnown(before, parts).slice(0, 2)).toEqual([
      parts[0],
      { id: 'mine', name: 'Mine', section: 'Verse 1', from: parts[1]!.from, to: parts[1]!.to },
    ])
  })
})

describe('where phrases end', () => {
  const phrase = (last: string) =>
    quarterNotes('E4 F4 G4 A4') +
    '</measure><measure>' +
    note({ pitch: last, length: 2 }) +
    note({ length: 1 }) +
    note({ pitch: 'D4', length: 1 })
  const song = (count: number) =>
    readMusicXml(
      bytesOf(
        pianoScore(
          Array.from({ length: count }, (_, index) => (index === 0 ? attributes() : '') + phrase('G4')),
        ).replaceAll('<measure>', '<measure number="9">'),
      ),
    ).arrangement

  it('a long note and a rest say most that a phrase ends (Cambouropoulos 2001, The local boundary detection model, ICMC; unchecked), before the pickup', () => {
    const ends = phraseEnds(song(4))
    const strong = [...ends]
      .sort((a, b) => b.evidence - a.evidence)
      .slice(0, 4)
      .map(one => toDecimal(one.at))
    expect(strong.sort((a, b) => a - b)).toEqual([7, 15, 23, 31])
  })
  it('a pickup belongs to its phrase: parts of two bars begin on beat 4', () => {
    expect(proposeParts(song(4), 2).map(part => toDecimal(part.from))).toEqual([0, 7, 15, 23])
  })
})

describe('where a new part goes, and where one is cut', () => {
  const gaps = [
    { name: 'a', from: quarters(4), to: quarters(16) },
    { name: 'b', from: quarters(24), to: quarters(40) },
  ]
  it('fills the next bars that no part has, from the chosen one on, and otherwise the first', () => {
    expect(uncovered(arrangement, gaps, quarters(4))).toEqual({ from: quarters(16), to: quarters(24) })
    expect(uncovered(arrangement, gaps, quarters(0))).toEqual({ from: quarters(0), to: quarters(4) })
    expect(toDecimal(uncovered(arrangement, gaps, quarters(24))!.from)).toBe(40)
    expect(uncovered(arrangement, parts, quarters(0))).toBeUndefined()
  })
  it('is the bar line nearest to the middle, or within a bar the nearest beat', () => {
    const [first, second] = [arrangement.bars[1]!, arrangement.bars[2]!]
    expect(middleOf(arrangement, { from: first.start, to: quarters(first.start.n + 8) })).toEqual(second.start)
    expect(toDecimal(middleOf(arrangement, { from: first.start, to: second.start }))).toBe(toDecimal(first.start) + 2)
  })
})

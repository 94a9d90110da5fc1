import { expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { applyChange } from '../edit/change'
import { notesKey } from './notes-key'
import { proposeParts } from './propose'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const parts = proposeParts(arrangement)

it('twins have one key; other hands, other notes and one changed note have another', () => {
  expect(notesKey(arrangement, parts[0]!, 'left')).toBe(notesKey(arrangement, parts[6]!, 'left'))
  expect(new Set((['right', 'left', 'both'] as const).map(hands => notesKey(arrangement, parts[0]!, hands))).size).toBe(
    3,
  )
  const first = arrangement.notes.find(note => note.hand === 'left')!
  const edited = applyChange(arrangement, { kind: 'pitch', ids: [first.id], halfSteps: 1 })
  expect(notesKey(edited, parts[0]!, 'left')).not.toBe(notesKey(arrangement, parts[0]!, 'left'))
  expect(notesKey(edited, parts[0]!, 'right')).toBe(notesKey(arrangement, parts[0]!, 'right'))
})

it('is kept in databases: the same notes give the same key for ever', () =>
  expect(notesKey(arrangement, parts[0]!, 'right')).toMatch(/^1[0-9a-f]{32}$/))

import type { Arrangement, Note } from './arrangement'
import { compare } from './quarters'

/** The order of an arrangement's notes: by onset, grace notes before their main note, then pitch. */
export const inOrder = (
  a: Pick<Note, 'onset' | 'grace' | 'pitch'>,
  b: Pick<Note, 'onset' | 'grace' | 'pitch'>,
): number => compare(a.onset, b.onset) || (b.grace?.before ?? 0) - (a.grace?.before ?? 0) || a.pitch - b.pitch

/** Ids for new notes, one at a call, that no notehead of the arrangement has. */
export function freshIds({ notes, others }: Pick<Arrangement, 'notes' | 'others'>): () => string {
  const used = new Set([...notes, ...others.flatMap(role => role.notes)].flatMap(note => [note.id, ...note.tiedIds]))
  let count = notes.length
  return () => {
    let id: string
    do id = `n${++count}`
    while (used.has(id))
    used.add(id)
    return id
  }
}

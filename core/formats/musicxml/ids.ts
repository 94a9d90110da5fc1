import type { WrittenNote, WrittenPart } from './part'

/** A notehead with the part it stands in and its id, unique in the score. */
export interface IdentifiedNote {
  part: WrittenPart
  note: WrittenNote
  id: string
}

/**
 * Gives every notehead an id: its own from the file where that is a plain name used once, otherwise `n1`, `n2` …
 * in file order. Returns the notes and the text with these ids on its `<note>` elements, so that an engraver's
 * note and the arrangement's note are known by the same name.
 */
export function giveIds(text: string, parts: readonly WrittenPart[]): { notes: IdentifiedNote[]; musicXml: string } {
  const uses = new Map<string, number>()
  for (const note of parts.flatMap(part => part.notes)) {
    const id = note.element.attributes.id
    if (id) uses.set(id, (uses.get(id) ?? 0) + 1)
  }
  const notes: IdentifiedNote[] = []
  const pieces: string[] = []
  let copied = 0
  let count = 0
  for (const part of parts) {
    for (const note of part.notes) {
      const own = note.element.attributes.id
      let id = own
      if (!own || uses.get(own) !== 1 || !/^[A-Za-z_][\w.-]{0,63}$/.test(own)) {
        do id = `n${++count}`
        while (uses.has(id))
        const startTag = note.element.nameEnd
        pieces.push(text.slice(copied, startTag), ` id="${id}"`)
        copied = own === undefined ? startTag : skipOwnId(text, startTag, pieces)
      }
      notes.push({ part, note, id: id! })
    }
  }
  pieces.push(text.slice(copied))
  return { notes, musicXml: pieces.join('') }
}

/** Copies a start tag without the id it has; returns the index behind it. */
function skipOwnId(text: string, from: number, pieces: string[]): number {
  const end = text.indexOf('>', from)
  pieces.push(text.slice(from, end).replace(/\sid\s*=\s*(?:"[^"]*"|'[^']*')/, ''))
  return end
}

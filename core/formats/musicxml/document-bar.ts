import { mode } from 'd3-array'
import type { Arrangement, Bar, Note } from '../../music/arrangement'
import { add, compare, equal, toDecimal, type Quarters } from '../../music/quarters'
import { fragment, type Splice } from './document-edits'
import { inUnits, unitsFor } from './note-values'
import { MOVES, type WrittenNote, type WrittenPart } from './part'
import { ScoreWriter, type Staff } from './write'
import { NoteWriter, type Carried } from './write-notes'
import { children, type XmlElement } from './xml'

/** A note of a bar that is written anew, on its staff; `tiedIds` are its further noteheads in this bar alone. */
export interface PlacedNote {
  note: Note
  staff: number
}

/**
 * A bar of a part whose notes are written anew: the noteheads that stand in it, and the notes that shall; `isTaken`:
 * ids that noteheads have elsewhere.
 */
export interface RewrittenBar {
  text: string
  part: WrittenPart
  bar: Bar
  heads: readonly WrittenNote[]
  notes: readonly PlacedNote[]
  isTaken: (id: string) => boolean
}

/**
 * The notes of a bar written anew, with what stood between them where it stood: as one piece of the measure from its
 * first note to its last. What hung on a notehead stays on it. `tiedIds`: the further noteheads of each note in this
 * bar.
 */
export function rewriteBar(
  arrangement: Arrangement,
  { text, part, bar, heads, notes, isTaken }: RewrittenBar,
): { splices: Splice[]; tiedIds: ReadonlyMap<string, string[]> } {
  const measure = part.measures[bar.index]!
  const units = unitsFor([
    bar.start,
    bar.length,
    bar.offset,
    ...notes.flatMap(({ note }) => [note.onset, add(note.onset, note.duration)]),
  ])
  const small: Arrangement = { ...arrangement, notes: notes.map(({ note }) => note), others: [], slurs: [] }
  const carried = carriedFrom(text, heads)
  const noteWriter = new NoteWriter(small, id => carried.get(id), isTaken)
  const writer = new ScoreWriter(small, units, noteWriter)
  const staves = Array.from({ length: part.staves }, (_, index): Staff =>
    writer.staff(
      index + 1,
      notes.filter(({ staff }) => staff === index + 1).map(({ note }) => note),
    ),
  )
  const first = measure.children.find(one => MOVES.has(one.name))
  const last = measure.children.findLast(one => MOVES.has(one.name))
  const [from, to] = first && last ? [first.start, last.end] : [measure.innerEnd, measure.innerEnd]
  const { divisions, between: all } = part.bars[bar.index]!
  const between = all
    .filter(({ element }) => element.start > from && element.end < to)
    .map(({ element, onset }) => ({ at: onset, text: text.slice(element.start, element.end) }))
    .sort((a, b) => compare(a.at, b.at))
  const names = voiceNames(
    staves,
    label => voiceStaff(part, label),
    (id, staff) => heads.some(one => one.element.attributes.id === id && one.staff === staff),
  )
  const written = fragment(parent => {
    let next = 0
    const inUnitsOf = (at: Quarters) => toDecimal(at) * units
    // What stood on a moment where a note of the first voice begins stays before it; the rest follows behind the
    // voices.
    const late: typeof between = []
    writer.voices(
      parent,
      bar,
      staves,
      {
        writeWithin(measureElement, _bar, start, end) {
          for (; next < between.length && inUnitsOf(between[next]!.at) < end - 0.5; next++) {
            const one = between[next]!
            if (Math.abs(inUnitsOf(one.at) - start) < 0.5) measureElement.raw(one.text)
            else late.push(one)
          }
        },
      },
      (staff, voice) => names.get(`${staff.number}:${voice}`)!,
    )
    late.push(...between.slice(next))
    if (late.length === 0) return
    parent.ele('backup').ele('duration', inUnits(bar.length, units))
    let at = 0
    for (const one of late) {
      const here = Math.round(inUnitsOf(one.at))
      if (here > at) parent.ele('forward').ele('duration', here - at)
      at = Math.max(at, here)
      parent.raw(one.text)
    }
    if (inUnits(bar.length, units) > at) parent.ele('forward').ele('duration', inUnits(bar.length, units) - at)
  })
  return { splices: inDivisions(written, units, divisions, part, bar, { from, to }), tiedIds: noteWriter.tiedIds }
}

/** The bar in the divisions of its part, or where these are too coarse, in finer ones that hold for this bar alone. */
function inDivisions(
  written: string,
  units: number,
  divisions: number,
  part: WrittenPart,
  bar: Bar,
  { from, to }: Pick<Splice, 'from' | 'to'>,
): Splice[] {
  const isEven = [...written.matchAll(/<duration>(\d+)<\/duration>/g)].every(([, value]) =>
    Number.isInteger((Number(value) * divisions) / units),
  )
  if (isEven)
    return [
      {
        from,
        to,
        text: written.replace(
          /<duration>(\d+)<\/duration>/g,
          (_all, value: string) => `<duration>${(Number(value) * divisions) / units}</duration>`,
        ),
      },
    ]
  const attributes = (value: number) => `<attributes><divisions>${value}</divisions></attributes>`
  const next = part.measures[bar.index + 1]
  return [
    { from, to, text: attributes(units) + written },
    ...(next ? [{ from: next.innerStart, to: next.innerStart, text: attributes(divisions) }] : []),
  ]
}

/** What hangs on the noteheads of a bar. */
function carriedFrom(text: string, heads: readonly WrittenNote[]): Map<string, Carried> {
  const raw = (elements: readonly XmlElement[]) => elements.map(one => text.slice(one.start, one.end)).join('')
  return new Map(
    heads.map(({ element }): [string, Carried] => {
      const notations = children(element, 'notations').flatMap(one => one.children)
      return [
        element.attributes.id ?? '',
        {
          instrument: raw(children(element, 'instrument')),
          head: raw(element.children.filter(one => ['notehead', 'notehead-text'].includes(one.name))),
          notations: raw(notations.filter(one => !['tied', 'tuplet', 'technical'].includes(one.name))),
          technical: raw(
            notations
              .filter(one => one.name === 'technical')
              .flatMap(one => one.children)
              .filter(one => one.name !== 'fingering' || !/^[1-5]$/.test(one.text.trim())),
          ),
          lyrics: raw(children(element, 'lyric')),
        },
      ]
    }),
  )
}

/** The staff on which a voice of a part has most of its notes; undefined for a name that no voice has. */
function voiceStaff(part: WrittenPart, label: string): number | undefined {
  return mode(part.notes.filter(note => note.voice === label).map(note => note.staff)) || undefined
}

/**
 * What each voice is called: as its first note was, where that is not taken. A note that is new on its staff is in no
 * voice that lives on another one: it would be taken for a visit of the other hand.
 */
function voiceNames(
  staves: readonly Staff[],
  homeOf: (label: string) => number | undefined,
  isOld: (id: string, staff: number) => boolean,
): Map<string, string> {
  const names = new Map<string, string>()
  const taken = new Set<string>()
  for (const { number, voices } of staves) {
    for (const index of voices.length > 0 ? voices.keys() : [0]) {
      const chord = voices[index]?.[0]
      const note = chord?.notes[0] ?? chord?.graces[0]
      const isElsewhere = (label: string) =>
        (homeOf(label) ?? number) !== number && !(note && label === note.voice && isOld(note.id, number))
      let name = note?.voice ?? String(1 + 4 * (number - 1))
      for (let free = 1 + 4 * (number - 1); taken.has(name) || isElsewhere(name); free++) name = String(free)
      taken.add(name)
      names.set(`${number}:${index}`, name)
    }
  }
  return names
}

/** Whether a note sounds or stands in a bar. */
export function isInBar(note: Pick<Note, 'onset' | 'duration'>, bar: Bar): boolean {
  const [end, barEnd] = [add(note.onset, note.duration), add(bar.start, bar.length)]
  return (
    compare(note.onset, barEnd) < 0 &&
    (compare(end, bar.start) > 0 || (equal(end, note.onset) && compare(note.onset, bar.start) >= 0))
  )
}

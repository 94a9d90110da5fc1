import { create, type XMLElement } from 'xmlbuilder'
import type { Arrangement, Bar, Lyric, Note } from '../../music/arrangement'
import { midiOf, spellInKey } from '../../music/pitch'
import { add, compare, equal, toDecimal, type Quarters } from '../../music/quarters'
import { MOVES, type WrittenNote, type WrittenPart } from './part'
import { markWriters } from './write-marks'
import { ACCIDENTALS, keyAlter, parseSpelled, writeLyric } from './write-notes'
import { child, children, type XmlElement } from './xml'

/** A piece of the text, from one index up to another, and what stands in its place. */
export interface Splice {
  from: number
  to: number
  text: string
}

type Written = Omit<Note, 'hand'>

/** The text between two indices with the splices that lie in it made. */
export function spliced(text: string, from: number, to: number, splices: readonly Splice[]): string {
  const pieces: string[] = []
  let at = from
  for (const one of splices
    .filter(({ from: begin, to: end }) => begin >= from && end <= to)
    .sort((a, b) => a.from - b.from || a.to - b.to)) {
    // Of two pieces that overlap the first holds.
    if (one.from < at) continue
    pieces.push(text.slice(at, one.from), one.text)
    at = one.to
  }
  pieces.push(text.slice(at, to))
  return pieces.join('')
}

/** Some elements as text, without an element around them. */
export function fragment(write: (parent: XMLElement) => void): string {
  const parent = create('x', { headless: true })
  write(parent)
  return parent.children.map(one => (one as XMLElement).toString()).join('')
}

const insert = (at: number, text: string): Splice => ({ from: at, to: at, text })
const removal = ({ start, end }: XmlElement): Splice => ({ from: start, to: end, text: '' })

/** The last of the children that have one of these names. */
const lastOf = (element: XmlElement, names: readonly string[]): XmlElement | undefined =>
  element.children.findLast(one => names.includes(one.name))

/** What stands in a <note> before its notations. */
const BEFORE_NOTATIONS = [
  'grace',
  'chord',
  'pitch',
  'duration',
  'tie',
  'instrument',
  'footnote',
  'level',
  'voice',
  'type',
  'dot',
  'accidental',
  'time-modification',
  'stem',
  'notehead',
  'notehead-text',
  'staff',
  'beam',
]
const BEFORE_ACCIDENTAL = BEFORE_NOTATIONS.slice(0, BEFORE_NOTATIONS.indexOf('accidental'))

/** A notehead with the name that its note has now. A transposing part is written as far from its sound as it was. */
export function pitchSplice({ element, pitch, spelled }: WrittenNote, now: Written, bar: Bar): Splice {
  const transposed = pitch - soundOf(spelled)
  const sounding = now.pitch - transposed
  const { step, alter, octave } = parseSpelled(
    soundOf(now.spelled) === sounding ? now.spelled : spellInKey(sounding, bar.fifths),
  )
  const { innerStart, innerEnd } = child(element, 'pitch')!
  return {
    from: innerStart,
    to: innerEnd,
    text: `<step>${step}</step>${alter ? `<alter>${alter}</alter>` : ''}<octave>${octave}</octave>`,
  }
}

/** The MIDI number of a written name. */
export function soundOf(spelled: string): number {
  const { step, alter, octave } = parseSpelled(spelled)
  return midiOf(step, alter, octave)
}

/** A finger set, changed or taken away. */
export function fingerSplices(element: XmlElement, finger: number | undefined): Splice[] {
  const notations = children(element, 'notations')
  const technical = notations.flatMap(one => children(one, 'technical'))
  const written = technical.flatMap(one => children(one, 'fingering'))
  const [first, ...others] = written.filter(one => /^[1-5]$/.test(one.text.trim()))
  if (first && finger !== undefined) return [{ from: first.innerStart, to: first.innerEnd, text: String(finger) }]
  if (first) return [first, ...others].map(removal)
  if (finger === undefined) return []
  const text = `<fingering>${finger}</fingering>`
  if (technical[0] && technical[0].innerEnd < technical[0].end) return [insert(technical[0].innerEnd, text)]
  if (notations[0] && notations[0].innerEnd < notations[0].end)
    return [insert(notations[0].innerEnd, `<technical>${text}</technical>`)]
  return [insert(lastOf(element, BEFORE_NOTATIONS)!.end, `<notations><technical>${text}</technical></notations>`)]
}

/**
 * The accidentals of a part's bar after some of its notes have changed their names: where one is needed now and none
 * stands it is set, and where the changed notes have one that is not needed any more it goes. Others stay as they are:
 * they may be there to remind.
 */
export function accidentalSplices(
  notes: readonly WrittenNote[],
  bar: Bar,
  noteOf: (id: string) => Written | undefined,
  isChanged: (id: string) => boolean,
): Splice[] {
  const splices: Splice[] = []
  const inTime = [...notes].sort((a, b) => compare(a.onset, b.onset))
  const meant = new Map<string, number>()
  for (const written of inTime) {
    const id = written.element.attributes.id ?? ''
    const now = noteOf(id)
    const name = now && isChanged(id) && soundOf(now.spelled) === now.pitch ? now.spelled : written.spelled
    const { step, alter, octave } = parseSpelled(name)
    const line = `${written.staff}:${step}${octave}`
    const accidental = child(written.element, 'accidental')
    const needed = !written.tieStop && alter !== (meant.get(line) ?? keyAlter(step, bar.fifths))
    if (!written.tieStop || accidental) meant.set(line, alter)
    const text = `<accidental>${ACCIDENTALS[String(alter)]}</accidental>`
    if (isChanged(id) && accidental)
      splices.push(needed ? { from: accidental.start, to: accidental.end, text } : removal(accidental))
    else if (needed && !accidental) splices.push(insert(lastOf(written.element, BEFORE_ACCIDENTAL)!.end, text))
  }
  return splices
}

/** Key signatures moved along with everything else. */
export function keySplices(parts: readonly WrittenPart[], before: readonly Bar[], after: readonly Bar[]): Splice[] {
  if (before.every((bar, index) => bar.fifths === after[index]?.fifths)) return []
  return parts.flatMap(part =>
    part.measures.flatMap((measure, index): Splice[] => {
      const [was, is] = [before[index], after[index]]
      if (!was || !is) return []
      const attributes = children(measure, 'attributes')
      const written = attributes.flatMap(one => children(one, 'key')).flatMap(key => children(key, 'fifths'))
      const fifths = (old: number) =>
        Math.abs(old + is.fifths - was.fifths) <= 7 ? old + is.fifths - was.fifths : is.fifths
      if (written.length > 0)
        return written.map(one => ({ from: one.innerStart, to: one.innerEnd, text: String(fifths(Number(one.text))) }))
      if (index > 0) return []
      const key = `<key><fifths>${is.fifths}</fifths></key>`
      const [first] = attributes
      return [
        first
          ? insert(child(first, 'divisions')?.end ?? first.innerStart, key)
          : insert(measure.innerStart, `<attributes>${key}</attributes>`),
      ]
    }),
  )
}

type MarkList = 'tempos' | 'swings' | 'chords' | 'dynamics' | 'pedals'
const MARK_LISTS: readonly MarkList[] = ['tempos', 'swings', 'chords', 'dynamics', 'pedals']
/** The children of a <direction> that make a mark of a list. */
const MADE_BY: Record<MarkList, readonly string[]> = {
  tempos: ['metronome'],
  swings: [],
  chords: [],
  dynamics: ['dynamics', 'wedge'],
  pedals: ['pedal'],
}

/** The part and staff over which new marks are written, and the part's notes by bar. */
interface MarkHome {
  part: WrittenPart
  staff: number
  notes: readonly (readonly WrittenNote[])[]
}

/** Marks that were set, changed or taken away between the notes. */
export function markSplices(
  before: Arrangement,
  after: Arrangement,
  parts: readonly WrittenPart[],
  home: MarkHome,
): Splice[] {
  const splices: Splice[] = []
  const added: Pick<Arrangement, MarkList> = { tempos: [], swings: [], chords: [], dynamics: [], pedals: [] }
  for (const list of MARK_LISTS) {
    const [was, is] = [before[list] ?? [], after[list] ?? []] as { onset: Quarters }[][]
    if (was === is) continue
    const had = new Set(was!.map(one => JSON.stringify(one)))
    const has = new Set(is!.map(one => JSON.stringify(one)))
    for (const one of was!)
      if (!has.has(JSON.stringify(one)))
        splices.push(...parts.flatMap(part => markRemovals(part, list, before, one.onset)))
    ;(added[list] as { onset: Quarters }[]).push(...is!.filter(one => !had.has(JSON.stringify(one))))
  }
  for (const { onset, write } of markWriters({ ...after, rehearsals: [], tempoWords: [], ...added })) {
    const bar = after.bars.findLast(one => compare(one.start, onset) <= 0)!
    const measure = home.part.measures[bar.index]
    if (!measure) continue
    // Before the last note that begins there or earlier, and as far behind it as need be.
    const at = home.notes[bar.index]!.filter(
      note =>
        !note.grace &&
        note.staff === home.staff &&
        compare(add(bar.start, note.onset), onset) <= 0 &&
        !child(note.element, 'chord'),
    )
      .sort((a, b) => compare(a.onset, b.onset))
      .at(-1)
    const behind = toDecimal(onset) - toDecimal(add(bar.start, at?.onset ?? { n: 0, d: 1 }))
    const first = measure.children.find(one => MOVES.has(one.name))
    const text = fragment(parent => write(parent, Math.round(behind * home.part.bars[bar.index]!.divisions)))
    splices.push(insert(at?.element.start ?? first?.start ?? measure.innerEnd, text))
  }
  return splices
}

function markRemovals(part: WrittenPart, list: MarkList, { bars }: Arrangement, onset: Quarters): Splice[] {
  const made = (list === 'chords' ? part.chords : part[list]).filter(one =>
    equal(add(bars[one.barIndex]!.start, one.onset), onset),
  )
  return [...new Set(made.map(one => one.element))].flatMap((element): Splice[] => {
    if (list === 'chords' || list === 'swings' || element.name === 'sound') return [removal(element)]
    const types = children(element, 'direction-type')
    const gone = types.filter(type => type.children.some(one => MADE_BY[list].includes(one.name)))
    const sound = child(element, 'sound')
    if (gone.length === types.length) return [removal(element)]
    return [...gone.map(removal), ...(list === 'tempos' && sound ? [removal(sound)] : [])]
  })
}

/** Syllables that were written, changed or taken away. */
export function lyricSplices(
  before: Arrangement,
  after: Arrangement,
  headOf: (id: string) => WrittenNote | undefined,
): Splice[] {
  if (before.lyrics === after.lyrics) return []
  const name = ({ noteId, verse, text, hyphen }: Lyric) => JSON.stringify([noteId, verse, text, hyphen])
  const [had, has] = [new Set(before.lyrics.map(name)), new Set(after.lyrics.map(name))]
  const changed = new Map(
    [...before.lyrics.filter(one => !has.has(name(one))), ...after.lyrics.filter(one => !had.has(name(one)))].map(
      one => [`${one.noteId} ${one.verse}`, one],
    ),
  )
  return [...changed.values()].flatMap(({ noteId, verse }): Splice[] => {
    const element = headOf(noteId)?.element
    if (!element) return []
    const now = after.lyrics.find(one => one.noteId === noteId && one.verse === verse)
    const text = now ? fragment(parent => writeLyric(parent, now, after.lyrics)) : ''
    const written = children(element, 'lyric').find(one => (one.attributes.number ?? '1') === verse)
    if (written) return [{ from: written.start, to: written.end, text }]
    return [insert(lastOf(element, [...BEFORE_NOTATIONS, 'notations', 'lyric'])!.end, text)]
  })
}

/** The title as it is now. */
export function titleSplices(root: XmlElement, title: string): Splice[] {
  const text = fragment(parent => parent.ele('work-title', title))
  const work = child(root, 'work')
  const written = child(work, 'work-title')
  if (written) return [{ from: written.start, to: written.end, text }]
  const movement = child(root, 'movement-title')
  if (movement)
    return [{ from: movement.start, to: movement.end, text: fragment(parent => parent.ele('movement-title', title)) }]
  return [
    work && work.innerEnd < work.end ? insert(work.innerEnd, text) : insert(root.innerStart, `<work>${text}</work>`),
  ]
}

import { groups } from 'd3-array'
import type { Arrangement, Hand, Note } from '../../music/arrangement'
import { add, equal, type Quarters } from '../../music/quarters'
import { isInBar, rewriteBar } from './document-bar'
import {
  accidentalSplices,
  fingerSplices,
  fragment,
  keySplices,
  lyricSplices,
  markSplices,
  pitchSplice,
  soundOf,
  spliced,
  titleSplices,
  type Splice,
} from './document-edits'
import { unitsFor } from './note-values'
import { notesByBar, type WrittenNote, type WrittenPart } from './part'
import { parseScore, type ReadScore, type WrittenScore } from './read'
import { ScoreWriter, writeMusicXml } from './write'
import { child, children, type XmlElement } from './xml'

/** The staff of a part. */
interface Place {
  part: WrittenPart
  staff: number
}
interface Head extends Place {
  written: WrittenNote
}
type Written = Omit<Note, 'hand'>

/** Something the document cannot take in: then the whole score is written anew. */
class UnsupportedEdit extends Error {
  override readonly name = 'OutOfReach'
}

/**
 * A score's MusicXML, to be written again with corrections. What they do not touch stays as it is, to the letter,
 * whether it is understood here or not. A bar in which notes come, go, or change length or hand has its notes written
 * anew and keeps what stood between and hung on them.
 */
export class ScoreDocument {
  private readonly score: WrittenScore
  private readonly heads: ReadonlyMap<string, Head>
  private readonly notes: ReadonlyMap<string, Written>
  private readonly byBar: ReadonlyMap<WrittenPart, WrittenNote[][]>
  private readonly homes = new Map<Hand, Place>()
  /** By the id of each notehead that of its note. */
  private readonly noteOfHead: ReadonlyMap<string, string>
  /** Ids given to further noteheads while bars are written anew. */
  private readonly given = new Set<string>()

  /**
   * `base`: an arrangement and its MusicXML, whose noteheads bear the arrangement's ids. Throws UnusableInput for a
   * text that is no score.
   */
  constructor(private readonly base: ReadScore) {
    this.score = parseScore(base.musicXml)
    this.heads = new Map(
      this.score.parts.flatMap(part =>
        part.notes.map((written): [string, Head] => [
          written.element.attributes.id ?? '',
          { part, staff: written.staff, written },
        ]),
      ),
    )
    this.byBar = new Map(this.score.parts.map(part => [part, notesByBar(part)]))
    this.notes = new Map(allNotes(base.arrangement).map(note => [note.id, note]))
    this.noteOfHead = new Map(
      [...this.notes.values()].flatMap(note => [note.id, ...note.tiedIds].map((id): [string, string] => [id, note.id])),
    )
  }

  /** Whether all these notes have their noteheads in the document. */
  holds(notes: readonly Pick<Note, 'id'>[]): boolean {
    return notes.every(note => this.heads.has(note.id))
  }

  /**
   * The whole score with the corrections in it; the further noteheads of notes written anew are in the arrangement
   * given back.
   */
  revised(edited: Arrangement): ReadScore {
    if (edited === this.base.arrangement) return this.base
    try {
      const { splices, tiedIds } = this.changes(edited)
      const { text, root } = this.score
      splices.push(
        ...(edited.title === this.base.arrangement.title ? [] : titleSplices(root, edited.title)),
        ...this.newBars(edited, tiedIds),
      )
      const notes = edited.notes.map(note =>
        tiedIds.has(note.id)
          ? {
              ...note,
              tiedIds: tiedIds
                .get(note.id)!
                .sort((a, b) => a.bar - b.bar)
                .map(one => one.id),
            }
          : note,
      )
      return { arrangement: { ...edited, notes }, musicXml: spliced(text, 0, text.length, splices) }
    } catch (error) {
      if (error instanceof UnsupportedEdit) return writeMusicXml(edited)
      throw error
    }
  }

  /**
   * Some bars (by index) as a small score of their own, for engraving: the parts that the hands play, and what holds
   * from before.
   */
  bars(edited: Arrangement, firstBar: number, lastBar: number): string {
    const { text, root, parts } = this.score
    if (lastBar >= this.base.arrangement.bars.length) {
      const whole = this.revised(edited)
      return new ScoreDocument(whole).bars(whole.arrangement, firstBar, lastBar)
    }
    let splices: Splice[]
    try {
      ;({ splices } = this.changes(edited, bar => bar >= firstBar && bar <= lastBar))
    } catch (error) {
      if (!(error instanceof UnsupportedEdit)) throw error
      const whole = writeMusicXml(edited)
      return new ScoreDocument(whole).bars(whole.arrangement, firstBar, lastBar)
    }
    const played = this.handParts()
    const names = children(child(root, 'part-list'), 'score-part').filter(one =>
      played.some(part => part.id === one.attributes.id),
    )
    const music = parts
      .filter(part => played.includes(part))
      .map(part => {
        const measures = part.measures.slice(firstBar, lastBar + 1).map((measure, place) => {
          const held = place === 0 ? inForce(text, part.measures.slice(0, firstBar)) : ''
          return `${text.slice(measure.start, measure.innerStart)}${held}${spliced(text, measure.innerStart, measure.end, splices)}`
        })
        return `<part id="${part.id}">${measures.join('')}</part>`
      })
    return `<score-partwise version="4.0"><part-list>${names.map(one => text.slice(one.start, one.end)).join('')}</part-list>${music.join('')}</score-partwise>`
  }

  /** The parts that a hand plays. */
  private handParts(): WrittenPart[] {
    const played = new Set(this.base.arrangement.notes.map(note => this.heads.get(note.id)?.part))
    return this.score.parts.filter(part => played.has(part))
  }

  /** Where a hand's notes stand for the most part. */
  private home(hand: Hand): Place {
    const known = this.homes.get(hand)
    if (known) return known
    const home = this.findHome(hand)
    this.homes.set(hand, home)
    return home
  }

  private findHome(hand: Hand): Place {
    const own = this.base.arrangement.notes
      .filter(note => note.hand === hand)
      .flatMap(note => this.heads.get(note.id) ?? [])
    const [fullest] = groups(
      own,
      head => head.part,
      head => head.staff,
    )
      .flatMap(([part, staves]) => staves.map(([staff, heads]) => ({ part, staff, count: heads.length })))
      .sort((a, b) => b.count - a.count)
    if (fullest) return fullest
    const [part] = this.handParts()
    if (!part) throw new UnsupportedEdit('no hand plays a part of the document')
    return { part, staff: part.staves > 1 && hand === 'left' ? 2 : 1 }
  }

  /**
   * The changes of the text, in all bars or in those that are wanted; and of notes in bars that are written anew, their
   * noteheads by bar.
   */
  private changes(
    edited: Arrangement,
    isWanted: (bar: number) => boolean = () => true,
  ): { splices: Splice[]; tiedIds: Map<string, { bar: number; id: string }[]> } {
    const {
      base: { arrangement: base },
      heads,
    } = this
    if (
      edited.bars.length < base.bars.length ||
      base.bars.some((bar, index) => !equal(bar.length, edited.bars[index]!.length))
    )
      throw new UnsupportedEdit('bars of other lengths')
    const splices: Splice[] = []
    const after = new Map(allNotes(edited).map(note => [note.id, note]))
    const homes = { right: this.home('right'), left: this.home('left') }
    const placeOf = (note: Note): Place => {
      const head = heads.get(note.id)
      return head && (this.notes.get(note.id) as Note).hand === note.hand ? head : homes[note.hand]
    }
    const anew = this.barsAnew(edited, placeOf)
    const isAnew = ({ part, written }: Head) => anew.get(part)?.has(written.barIndex) === true
    // What changes only its name or its finger is changed where it stands.
    const renamed = new Set<string>()
    for (const [id, now] of after) {
      const was = this.notes.get(id)
      if (!was || was === now) continue
      const isRenamed = was.pitch !== now.pitch || was.spelled !== now.spelled
      for (const headId of isRenamed ? [id, ...was.tiedIds] : was.finger !== now.finger ? [id] : []) {
        const head = heads.get(headId)
        if (!head || isAnew(head) || !isWanted(head.written.barIndex)) continue
        if (isRenamed) {
          splices.push(pitchSplice(head.written, now, edited.bars[head.written.barIndex]!))
          renamed.add(headId)
        }
        if (headId === id && was.finger !== now.finger) splices.push(...fingerSplices(head.written.element, now.finger))
      }
    }
    const bars = new Map(
      [...renamed]
        .map(id => heads.get(id)!)
        .map(({ part, written }) => [`${part.id}:${written.barIndex}`, { part, bar: edited.bars[written.barIndex]! }]),
    )
    for (const { part, bar } of bars.values())
      splices.push(
        ...accidentalSplices(
          this.byBar.get(part)![bar.index]!,
          bar,
          id => after.get(this.noteOfHead.get(id) ?? ''),
          id => renamed.has(id),
        ),
      )
    const tiedIds = new Map<string, { bar: number; id: string }[]>()
    this.given.clear()
    const sounding = anew.size > 0 ? soundingByBar(edited) : []
    for (const [part, indices] of anew)
      for (const index of indices)
        if (isWanted(index)) this.writeAnew(edited, part, index, sounding[index]!, placeOf, splices, tiedIds)
    // Further noteheads in bars that stay as they are.
    for (const [id, ids] of tiedIds) {
      for (const tied of after.get(id)!.tiedIds) {
        const head = heads.get(tied)
        if (head && !isAnew(head)) ids.push({ bar: head.written.barIndex, id: tied })
      }
    }
    splices.push(...keySplices(this.score.parts, base.bars, edited.bars))
    splices.push(
      ...markSplices(base, edited, this.score.parts, { ...homes.right, notes: this.byBar.get(homes.right.part)! }),
    )
    splices.push(...lyricSplices(base, edited, id => heads.get(id)?.written))
    return { splices, tiedIds }
  }

  /** The bars of each part in which notes came, went, or changed in length, time or hand. */
  private barsAnew(edited: Arrangement, placeOf: (note: Note) => Place): Map<WrittenPart, Set<number>> {
    const {
      base: { arrangement: base },
    } = this
    const anew = new Map<WrittenPart, Set<number>>()
    const touch = (part: WrittenPart, note: Note) => {
      const bars = anew.get(part) ?? new Set()
      anew.set(part, bars)
      for (let index = note.barIndex; index < base.bars.length && isInBar(note, base.bars[index]!); index++)
        bars.add(index)
    }
    const after = new Map(edited.notes.map(note => [note.id, note]))
    for (const was of base.notes) {
      const now = after.get(was.id)
      if (now === was) continue
      const head = this.heads.get(was.id)
      if (!head) throw new UnsupportedEdit('a note that is not in the document')
      if (now && equal(was.onset, now.onset) && equal(was.duration, now.duration) && was.hand === now.hand) continue
      touch(head.part, was)
      if (now) touch(placeOf(now).part, now)
    }
    for (const now of edited.notes) if (!this.notes.has(now.id)) touch(placeOf(now).part, now)
    for (const part of anew.keys())
      if (part.notes.some(({ spelled, pitch }) => soundOf(spelled) !== pitch))
        throw new UnsupportedEdit('a transposing part')
    return anew
  }

  private writeAnew(
    edited: Arrangement,
    part: WrittenPart,
    index: number,
    sounding: readonly Note[],
    placeOf: (note: Note) => Place,
    splices: Splice[],
    tiedIds: Map<string, { bar: number; id: string }[]>,
  ): void {
    const bar = edited.bars[index]!
    const notes = sounding.flatMap(note => {
      const place = placeOf(note)
      const here = note.tiedIds.filter(id => this.heads.get(id)?.written.barIndex === index)
      return place.part === part ? [{ note: { ...note, tiedIds: here }, staff: place.staff }] : []
    })
    const written = rewriteBar(edited, {
      text: this.score.text,
      part,
      bar,
      heads: this.byBar.get(part)![index]!,
      notes,
      isTaken: id => this.heads.has(id) || this.given.has(id),
    })
    splices.push(...written.splices)
    for (const { note } of notes) {
      const its = written.tiedIds.get(note.id) ?? []
      for (const id of its) this.given.add(id)
      tiedIds.set(note.id, [...(tiedIds.get(note.id) ?? []), ...its.map(id => ({ bar: index, id }))])
    }
  }

  /** Bars behind the last one: a phrase that was played in. */
  private newBars(edited: Arrangement, tiedIds: Map<string, { bar: number; id: string }[]>): Splice[] {
    const known = this.base.arrangement.bars.length
    const bars = edited.bars.slice(known)
    if (bars.length === 0) return []
    const homes = { right: this.home('right'), left: this.home('left') }
    const fresh = edited.notes.filter(note => note.barIndex >= known)
    const moments: Quarters[] = [
      ...bars.flatMap(bar => [bar.start, bar.length]),
      ...fresh.flatMap(note => [note.onset, add(note.onset, note.duration)]),
    ]
    const units = unitsFor(moments)
    return this.score.parts.map((part): Splice => {
      const own = fresh.filter(note => homes[note.hand].part === part)
      const writer = new ScoreWriter({ ...edited, notes: own, others: [] }, units)
      const staves = Array.from({ length: part.staves }, (_, index) =>
        writer.staff(
          index + 1,
          own.filter(note => homes[note.hand].staff === index + 1),
          index === 1 ? 'left' : 'right',
        ),
      )
      const text = fragment(parent =>
        bars.forEach(bar => writer.measure(parent, bar, edited.bars[bar.index - 1], staves)),
      )
      for (const [id, ids] of writer.notes.tiedIds)
        tiedIds.set(
          id,
          ids.map((one, place) => ({ bar: known + place, id: one })),
        )
      const at = part.measures.at(-1)!.end
      return {
        from: at,
        to: at,
        text: text.replace(/(<measure\b[^>]*>)/, `$1<attributes><divisions>${units}</divisions></attributes>`),
      }
    })
  }
}

/** The notes that sound or stand in each bar. */
function soundingByBar({ bars, notes }: Arrangement): Note[][] {
  const found = bars.map((): Note[] => [])
  for (const note of notes)
    for (let index = note.barIndex; index < bars.length && isInBar(note, bars[index]!); index++)
      found[index]!.push(note)
  return found
}

const allNotes = ({ notes, others }: Arrangement): Written[] => [...notes, ...others.flatMap(role => role.notes)]

/** The <attributes> that hold behind some measures: divisions, key, meter, staves, clefs and transposition. */
function inForce(text: string, measures: readonly XmlElement[]): string {
  const held = new Map<string, XmlElement>()
  for (const attributes of measures.flatMap(measure => children(measure, 'attributes'))) {
    for (const one of attributes.children)
      if (ATTRIBUTES.includes(one.name)) held.set(`${one.name}:${one.attributes.number ?? ''}`, one)
  }
  if (held.size === 0) return ''
  const inOrder = [...held.values()].sort((a, b) => ATTRIBUTES.indexOf(a.name) - ATTRIBUTES.indexOf(b.name))
  return `<attributes>${inOrder.map(one => text.slice(one.start, one.end)).join('')}</attributes>`
}

/** In the order that the format asks for. */
const ATTRIBUTES = ['divisions', 'key', 'time', 'staves', 'clef', 'transpose']

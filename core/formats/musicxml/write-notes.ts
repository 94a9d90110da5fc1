import type { XMLElement } from 'xmlbuilder'
import type { Arrangement, Bar, Lyric, Note } from '../../music/arrangement'
import { midiOf, spellInKey } from '../../music/pitch'
import { compare, later, type Quarters } from '../../music/quarters'
import { flagsOf, type DrawnValue } from './note-values'
import type { VoiceChord } from './voices'

type Written = Omit<Note, 'hand'>

/** A chord or a rest of a voice in a bar, drawn as note values. */
export interface Event {
  start: number
  end: number
  values: DrawnValue[]
  fill: boolean
  chord?: VoiceChord
  tiedIn?: boolean
  tiedOut?: boolean
}

/** What is written of one notehead, or of a rest where there is no note. */
export interface NoteParts {
  note?: Written
  id?: string
  value?: DrawnValue
  bar?: Bar
  staff: { number: number }
  manyStaves: boolean
  voice: string
  inChord?: boolean
  isHead?: boolean
  isHidden?: boolean
  accidental?: boolean
  tieIn?: boolean
  tieOut?: boolean
  beams?: string[]
  tupletEdge?: 'start' | 'stop'
}

/** What a notehead of the document has beside pitch, value, ties and finger, as MusicXML: it is carried along. */
export interface Carried {
  instrument: string
  head: string
  notations: string
  technical: string
  lyrics: string
}

/**
 * Writes <note> elements: pitches, values, ties and all that hangs on a notehead. Keeps account of ids given to further
 * noteheads.
 */
export class NoteWriter {
  readonly tiedIds = new Map<string, string[]>()
  private readonly usedIds = new Set<string>()
  private readonly lyrics = new Map<string, Lyric[]>()
  private readonly slurs = new Map<string, { type: 'start' | 'stop'; number: number }[]>()

  /**
   * `carriedOf`: of a notehead (by its id) that stands in the document already; `isTaken`: ids of noteheads elsewhere
   * in it.
   */
  constructor(
    private readonly arrangement: Arrangement,
    private readonly carriedOf: (id: string) => Carried | undefined = () => undefined,
    private readonly isTaken: (id: string) => boolean = () => false,
  ) {
    for (const note of [...arrangement.notes, ...arrangement.others.flatMap(role => role.notes)])
      for (const id of [note.id, ...note.tiedIds]) this.usedIds.add(id)
    for (const lyric of arrangement.lyrics)
      this.lyrics.set(lyric.noteId, [...(this.lyrics.get(lyric.noteId) ?? []), lyric])
    this.numberSlurs()
  }

  /** A bar's rest for a whole voice. */
  wholeRest(measure: XMLElement, length: number, staff: number, manyStaves: boolean, voice: string): void {
    const rest = measure.ele('note')
    rest.ele('rest', { measure: 'yes' })
    rest.ele('duration', length)
    rest.ele('voice', voice)
    if (manyStaves) rest.ele('staff', staff)
  }

  /** One <note>, its children in the order the format asks for. */
  write(measure: XMLElement, one: NoteParts): void {
    const { note, value } = one
    const carried = one.id === undefined ? undefined : this.carriedOf(one.id)
    const element = measure.ele('note', one.id ? { id: one.id } : one.isHidden ? { 'print-object': 'no' } : {})
    if (note?.grace) element.ele('grace', note.grace.slash ? { slash: 'yes' } : {})
    if (one.inChord) element.ele('chord')
    if (note) {
      const { step, alter, octave } = spelling(note, one.bar!)
      const pitch = element.ele('pitch')
      pitch.ele('step', step)
      if (alter !== 0) pitch.ele('alter', alter)
      pitch.ele('octave', octave)
    } else element.ele('rest')
    if (value) element.ele('duration', value.length)
    if (one.tieIn) element.ele('tie', { type: 'stop' })
    if (one.tieOut) element.ele('tie', { type: 'start' })
    if (carried?.instrument) element.raw(carried.instrument)
    element.ele('voice', one.voice)
    element.ele('type', value?.type ?? 'eighth')
    for (let dot = 0; dot < (value?.dots ?? 0); dot++) element.ele('dot')
    if (note && one.accidental) element.ele('accidental', ACCIDENTALS[String(spelling(note, one.bar!).alter)])
    if (value?.tuplet) {
      const modification = element.ele('time-modification')
      modification.ele('actual-notes', value.tuplet.actual)
      modification.ele('normal-notes', value.tuplet.normal)
    }
    if (carried?.head) element.raw(carried.head)
    if (one.manyStaves) element.ele('staff', one.staff.number)
    one.beams?.forEach((beam, index) => element.ele('beam', { number: index + 1 }, beam))
    if (carried) this.carriedNotations(element, one, carried)
    else if (note || one.tupletEdge) this.notations(element, one)
    if (carried?.lyrics) element.raw(carried.lyrics)
    else if (note && !carried && (one.isHead || note.grace)) this.lyric(element, note)
  }

  private carriedNotations(element: XMLElement, one: NoteParts, { notations, technical }: Carried) {
    const finger = one.isHead || one.note?.grace ? one.note?.finger : undefined
    if (!notations && !technical && !one.tieIn && !one.tieOut && !one.tupletEdge && finger === undefined) return
    const list = element.ele('notations')
    if (one.tieIn) list.ele('tied', { type: 'stop' })
    if (one.tieOut) list.ele('tied', { type: 'start' })
    if (one.tupletEdge) list.ele('tuplet', { type: one.tupletEdge })
    if (technical || finger !== undefined) {
      const marks = list.ele('technical')
      if (finger !== undefined) marks.ele('fingering', finger)
      if (technical) marks.raw(technical)
    }
    if (notations) list.raw(notations)
  }

  private notations(element: XMLElement, one: NoteParts) {
    const { note } = one
    const isStart = note && (one.isHead || note.grace)
    const slurs = note
      ? (this.slurs.get(note.id) ?? []).filter(slur => (slur.type === 'start' ? isStart : !one.tieOut))
      : []
    const articulations = isStart ? (note.articulations ?? []) : []
    const ornaments = isStart ? (note.ornaments ?? []) : []
    const finger = isStart ? note.finger : undefined
    if (
      !one.tieIn &&
      !one.tieOut &&
      !one.tupletEdge &&
      slurs.length + articulations.length + ornaments.length === 0 &&
      finger === undefined
    )
      return
    const notations = element.ele('notations')
    if (one.tieIn) notations.ele('tied', { type: 'stop' })
    if (one.tieOut) notations.ele('tied', { type: 'start' })
    for (const slur of slurs) notations.ele('slur', { ...slur })
    if (one.tupletEdge) notations.ele('tuplet', { type: one.tupletEdge })
    if (ornaments.length > 0) {
      const list = notations.ele('ornaments')
      for (const ornament of ornaments)
        if (ornament === 'tremolo') list.ele('tremolo', {}, '3')
        else list.ele(ornament)
    }
    if (finger !== undefined) notations.ele('technical').ele('fingering', finger)
    const drawn = articulations.filter(name => !OWN_NOTATIONS.includes(name))
    if (drawn.length > 0) {
      const list = notations.ele('articulations')
      for (const articulation of drawn) list.ele(articulation)
    }
    for (const name of OWN_NOTATIONS) if (articulations.includes(name)) notations.ele(name)
  }

  private lyric(element: XMLElement, note: Written) {
    for (const lyric of this.lyrics.get(note.id) ?? []) writeLyric(element, lyric, this.arrangement.lyrics)
  }

  /** The id of a note's next further notehead. */
  nextTiedId(note: Written): string {
    const given = this.tiedIds.get(note.id) ?? []
    let id = note.tiedIds[given.length]
    for (let count = given.length + 1; id === undefined; count++) {
      const fresh = `${note.id}.${count}`
      if (!this.usedIds.has(fresh) && !this.isTaken(fresh)) id = fresh
    }
    this.usedIds.add(id)
    this.tiedIds.set(note.id, [...given, id])
    return id
  }

  /** Slurs open at one time need numbers of their own, 1 to 6 (MusicXML, number-level). */
  private numberSlurs() {
    const byId = new Map(this.arrangement.notes.map(note => [note.id, note]))
    const busy: { until: Quarters; number: number }[] = []
    for (const slur of this.arrangement.slurs ?? []) {
      const [from, to] = [byId.get(slur.from), byId.get(slur.to)]
      if (!from || !to) continue
      const open = busy.filter(one => compare(one.until, from.onset) > 0)
      const number = [1, 2, 3, 4, 5, 6].find(one => !open.some(other => other.number === one)) ?? 6
      busy.push({ until: later(to.onset, from.onset), number })
      this.slurs.set(from.id, [...(this.slurs.get(from.id) ?? []), { type: 'start', number }])
      this.slurs.set(to.id, [{ type: 'stop', number }, ...(this.slurs.get(to.id) ?? [])])
    }
  }
}

/** Marks that stand by themselves among a note's notations, not among its articulations. */
const OWN_NOTATIONS = ['fermata', 'arpeggiate']
export const ACCIDENTALS: Record<string, string> = {
  '-2': 'flat-flat',
  '-1': 'flat',
  '0': 'natural',
  '1': 'sharp',
  '2': 'double-sharp',
}
const SHARPS = ['F', 'C', 'G', 'D', 'A', 'E', 'B']

/** What a key signature makes of a letter. */
export function keyAlter(step: string, fifths: number): number {
  const place = SHARPS.indexOf(step)
  return fifths > place ? 1 : -fifths > 6 - place ? -1 : 0
}

/** The written name of a note, or where that is not its pitch (a transposed part), the name in the bar's key. */
export function spelling(note: Written, bar: Bar): { step: string; alter: number; octave: number } {
  const written = parseSpelled(note.spelled)
  return midiOf(written.step, written.alter, written.octave) === note.pitch
    ? written
    : parseSpelled(spellInKey(note.pitch, bar.fifths))
}

/** "F#4" as step, alteration and octave. */
export function parseSpelled(name: string): { step: string; alter: number; octave: number } {
  const [, step, signs, octave] = /^([A-G])(#*|b*)(-?\d+)$/.exec(name)!
  return { step: step!, alter: signs!.startsWith('#') ? signs!.length : -signs!.length, octave: Number(octave) }
}

/** A syllable, joined to the one before it where that has a hyphen. */
export function writeLyric(element: XMLElement, lyric: Lyric, all: readonly Lyric[]): void {
  const before = all.findLast(one => one.verse === lyric.verse && compare(one.onset, lyric.onset) < 0)
  const lyricElement = element.ele('lyric', { number: lyric.verse })
  lyricElement.ele('syllabic', before?.hyphen ? (lyric.hyphen ? 'middle' : 'end') : lyric.hyphen ? 'begin' : 'single')
  lyricElement.ele('text', lyric.text)
}

/** The beam words of each value: chords with flags that follow each other within a group. */
export function beamsOf(events: readonly Event[], groupOf: (value: DrawnValue) => string): Map<DrawnValue, string[]> {
  const runs: DrawnValue[][] = []
  let run: DrawnValue[] = []
  let group = ''
  for (const event of events) {
    for (const value of event.values) {
      const joins = event.chord && flagsOf(value.type) > 0
      if (!joins || groupOf(value) !== group) {
        runs.push(run)
        run = []
      }
      if (joins) run.push(value)
      group = groupOf(value)
    }
  }
  runs.push(run)
  const beams = new Map<DrawnValue, string[]>()
  for (const values of runs.filter(one => one.length > 1)) {
    values.forEach((value, index) => {
      const [before, after] = [values[index - 1], values[index + 1]].map(one => (one ? flagsOf(one.type) : 0)) as [
        number,
        number,
      ]
      beams.set(
        value,
        Array.from({ length: flagsOf(value.type) }, (_, level) => {
          const [left, right] = [before > level, after > level]
          return left && right
            ? 'continue'
            : right
              ? 'begin'
              : left
                ? 'end'
                : before > 0
                  ? 'backward hook'
                  : 'forward hook'
        }),
      )
    })
  }
  return beams
}

export function tupletEdge({ start, length, tuplet }: DrawnValue): 'start' | 'stop' | undefined {
  if (!tuplet) return undefined
  return start === tuplet.start ? 'start' : start + length === tuplet.end ? 'stop' : undefined
}

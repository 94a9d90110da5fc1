import { create, type XMLElement } from 'xmlbuilder'
import type { Arrangement, Bar, Hand, Lyric, Note } from '../../music/arrangement'
import { barLength } from '../../music/meter'
import { midiOf, spellInKey } from '../../music/pitch'
import { add as addQuarters, compare, equal, later, type Quarters } from '../../music/quarters'
import type { ReadScore } from './read'
import { BarMarks } from './write-marks'
import { beamGroup, drawValues, flagsOf, inUnits, unitsFor, type DrawnValue } from './note-values'
import { layVoices, type VoiceChord } from './voices'

type Written = Omit<Note, 'hand'>
interface Staff { number: number, hand?: Hand, voices: VoiceChord[][], clefs: string[] }

/**
 * Writes an arrangement as MusicXML 4.0: a part for each other role, then the piano, right hand above left. Every note keeps its id;
 * where it takes more noteheads tied together, the further ones are named in `tiedIds` of the arrangement that is given back.
 * Throws a RangeError for positions too fine for note values.
 */
export function writeMusicXml(arrangement: Arrangement): ReadScore {
  const moments: Quarters[] = arrangement.bars.flatMap(bar => [bar.start, bar.length, bar.offset])
  for (const note of [...arrangement.notes, ...arrangement.others.flatMap(role => role.notes)]) moments.push(note.onset, addQuarters(note.onset, note.duration))
  for (const { onset } of [...arrangement.chords, ...arrangement.pedals, ...arrangement.dynamics, ...arrangement.tempos]) moments.push(onset)
  const writer = new ScoreWriter(arrangement, unitsFor(moments))
  const musicXml = writer.write()
  const withTies = <T extends Written>(note: T): T => ({ ...note, tiedIds: writer.tiedIds.get(note.id) ?? [] })
  return {
    musicXml,
    arrangement: { ...arrangement, notes: arrangement.notes.map(withTies), others: arrangement.others.map(role => ({ ...role, notes: role.notes.map(withTies) })) },
  }
}

class ScoreWriter {
  readonly tiedIds = new Map<string, string[]>()
  private readonly usedIds = new Set<string>()
  private readonly lyrics = new Map<string, Lyric[]>()
  private readonly slurs = new Map<string, { type: 'start' | 'stop', number: number }[]>()

  constructor(private readonly arrangement: Arrangement, private readonly units: number) {
    for (const note of [...arrangement.notes, ...arrangement.others.flatMap(role => role.notes)]) for (const id of [note.id, ...note.tiedIds]) this.usedIds.add(id)
    for (const lyric of arrangement.lyrics) this.lyrics.set(lyric.noteId, [...this.lyrics.get(lyric.noteId) ?? [], lyric])
    this.numberSlurs()
  }

  write(): string {
    const { arrangement } = this
    const score = create('score-partwise', { encoding: 'UTF-8' }).att('version', '4.0')
    score.ele('work').ele('work-title', arrangement.title)
    const identification = score.ele('identification')
    if (arrangement.composer) identification.ele('creator', { type: 'composer' }, arrangement.composer)
    identification.ele('encoding').ele('software', 'Half Step')
    const list = score.ele('part-list')
    const roles = arrangement.others.map((role, index) => ({ id: `R${index + 1}`, name: role.name, staves: [this.staff(1, role.notes)] }))
    const hands = [this.staff(1, arrangement.notes.filter(note => note.hand === 'right'), 'right'), this.staff(2, arrangement.notes.filter(note => note.hand === 'left'), 'left')]
    const parts = [...roles, { id: 'P1', name: 'Piano', staves: hands }]
    for (const part of parts) list.ele('score-part', { id: part.id }).ele('part-name', part.name)
    for (const part of parts) {
      const element = score.ele('part', { id: part.id })
      const isPiano = part.id === 'P1'
      const marks = isPiano ? new BarMarks(arrangement, this.units) : undefined
      arrangement.bars.forEach((bar, index) => this.measure(element, bar, arrangement.bars[index - 1], part.staves, marks))
    }
    return score.end({ pretty: true, indent: ' ' })
  }

  private staff(number: number, notes: readonly Written[], hand?: Hand): Staff {
    return { number, hand, voices: layVoices(notes), clefs: clefsByBar(this.arrangement.bars, notes, hand === 'left' ? 'F' : 'G') }
  }

  private measure(part: XMLElement, bar: Bar, before: Bar | undefined, staves: readonly Staff[], marks: BarMarks | undefined) {
    const { units } = this
    const isWhole = equal(bar.length, barLength(bar.meter))
    const measure = part.ele('measure', { number: bar.number, ...(isWhole ? {} : { implicit: 'yes' }) })
    this.leftBarline(measure, bar, before)
    this.attributes(measure, bar, before, staves)
    const length = inUnits(bar.length, units)
    let first = true
    for (const staff of staves) {
      const voices = staff.voices.map((chords, voice) => ({ voice, chords: chordsIn(chords, bar) })).filter(one => one.chords.length > 0)
      if (voices.length === 0) voices.push({ voice: 0, chords: [] })
      const accidentals = new Map<string, number>()
      // Accidentals count for the staff from left to right, whatever the voice: they are decided in that order first.
      const drawn = voices.map(({ voice, chords }, place) => ({ voice, place, events: this.events(chords, bar, place === 0) }))
      const shown = this.showAccidentals(drawn.flatMap(one => one.events), bar, accidentals)
      for (const { voice, events } of drawn) {
        if (!first) measure.ele('backup').ele('duration', length)
        this.voice(measure, events, bar, staff, staves.length > 1, voice + 1 + 4 * (staff.number - 1), shown, first ? marks : undefined)
        first = false
      }
    }
    if (marks) marks.writeJumps(measure, bar)
    this.rightBarline(measure, bar, this.arrangement.bars[bar.index + 1])
  }

  private attributes(measure: XMLElement, bar: Bar, before: Bar | undefined, staves: readonly Staff[]) {
    const newKey = before?.fifths !== bar.fifths
    const newMeter = JSON.stringify(before?.meter) !== JSON.stringify(bar.meter)
    const newClefs = staves.filter(staff => !before || staff.clefs[bar.index] !== staff.clefs[bar.index - 1])
    if (before && !newKey && !newMeter && newClefs.length === 0) return
    const attributes = measure.ele('attributes')
    if (!before) attributes.ele('divisions', this.units)
    if (newKey) attributes.ele('key').ele('fifths', bar.fifths)
    if (newMeter) {
      const time = attributes.ele('time')
      time.ele('beats', bar.meter.groups?.join('+') ?? bar.meter.beats)
      time.ele('beat-type', bar.meter.beatType)
    }
    if (!before && staves.length > 1) attributes.ele('staves', staves.length)
    for (const staff of newClefs) {
      const clef = attributes.ele('clef', staves.length > 1 ? { number: staff.number } : {})
      clef.ele('sign', staff.clefs[bar.index])
      clef.ele('line', staff.clefs[bar.index] === 'G' ? 2 : 4)
    }
  }

  private leftBarline(measure: XMLElement, bar: Bar, before: Bar | undefined) {
    const beginsEnding = bar.endings && bar.endings !== before?.endings && bar.endings.join() !== (before?.repeatEnd ? '' : before?.endings?.join())
    if (!bar.repeatStart && !beginsEnding) return
    const line = measure.ele('barline', { location: 'left' })
    if (bar.repeatStart) line.ele('bar-style', 'heavy-light')
    if (beginsEnding) line.ele('ending', { number: bar.endings!.join(','), type: 'start' })
    if (bar.repeatStart) line.ele('repeat', { direction: 'forward' })
  }

  private rightBarline(measure: XMLElement, bar: Bar, after: Bar | undefined) {
    const endsEnding = bar.endings && (bar.repeatEnd || bar.endings.join() !== after?.endings?.join())
    if (!bar.repeatEnd && !endsEnding && !bar.sectionEnd) return
    const line = measure.ele('barline', { location: 'right' })
    if (bar.repeatEnd || bar.sectionEnd) line.ele('bar-style', bar.repeatEnd || !after ? 'light-heavy' : 'light-light')
    if (endsEnding) line.ele('ending', { number: bar.endings!.join(','), type: bar.repeatEnd ? 'stop' : 'discontinue' })
    if (bar.repeatEnd) line.ele('repeat', { direction: 'backward', ...(bar.repeatEnd > 2 ? { times: bar.repeatEnd } : {}) })
  }

  /** A voice's bar as chords and, between them, rests, each drawn as note values. Only a staff's first voice shows its rests (`fill`). */
  private events(chords: readonly VoiceChord[], bar: Bar, fill: boolean): Event[] {
    const { units } = this
    const from = inUnits(bar.start, units)
    const length = inUnits(bar.length, units)
    const items: (Omit<Event, 'values'>)[] = []
    let at = 0
    for (const chord of chords) {
      const start = Math.max(0, inUnits(chord.onset, units) - from)
      const end = Math.min(length, inUnits(chord.end, units) - from)
      if (start > at) items.push({ start: at, end: start, fill })
      items.push({ start, end, chord, fill, tiedIn: inUnits(chord.onset, units) < from, tiedOut: inUnits(chord.end, units) > from + length })
      at = end
    }
    if (at < length) items.push({ start: at, end: length, fill })
    const values = drawValues(items, inUnits(bar.offset, units), bar.meter, units)
    return items.map((item, index) => ({ ...item, values: values[index]! }))
  }

  /** Which noteheads show an accidental: where the staff's line or space last meant something else in this bar. */
  private showAccidentals(events: readonly Event[], bar: Bar, state: Map<string, number>): Set<Written> {
    const shown = new Set<Written>()
    const inTime = events.filter(event => event.chord).sort((a, b) => a.start - b.start)
    for (const event of inTime) {
      for (const note of [...event.chord!.graces, ...event.chord!.notes]) {
        const { step, alter, octave } = spelling(note, bar)
        const place = `${step}${octave}`
        const meant = state.get(place) ?? keyAlter(step, bar.fifths)
        if (event.tiedIn && !note.grace) continue
        if (alter !== meant) {
          shown.add(note)
          state.set(place, alter)
        }
      }
    }
    return shown
  }

  private voice(measure: XMLElement, events: readonly Event[], bar: Bar, staff: Staff, manyStaves: boolean, voice: number, accidentals: Set<Written>, marks: BarMarks | undefined) {
    const offset = inUnits(bar.offset, this.units)
    // A beam stays within its tuplet; a tuplet of one beat is beamed as a whole.
    const beams = beamsOf(events, ({ start, tuplet }) => {
      const isShort = tuplet && tuplet.end - tuplet.start <= this.units
      return `${tuplet?.start ?? ''}:${isShort ? '' : beamGroup(bar.meter, start + offset, this.units)}`
    })
    for (const event of events) {
      marks?.writeWithin(measure, bar, event.start, event.end)
      const { chord } = event
      if (!chord) {
        if (event.fill && event.start === 0 && event.end === inUnits(barLength(bar.meter), this.units)) this.wholeRest(measure, event, staff, manyStaves, voice)
        else for (const value of event.values) this.noteElement(measure, { value, staff, manyStaves, voice, tupletEdge: tupletEdge(value), isHidden: !event.fill })
        continue
      }
      for (const grace of chord.graces) if (event.tiedIn !== true) this.noteElement(measure, { note: grace, id: grace.id, bar, staff, manyStaves, voice, accidental: accidentals.has(grace) })
      event.values.forEach((value, index) => {
        chord.notes.forEach((note, place) => {
          const isHead = index === 0 && !event.tiedIn
          this.noteElement(measure, {
            note, value, bar, staff, manyStaves, voice, inChord: place > 0, isHead,
            id: isHead ? note.id : this.nextTiedId(note), accidental: isHead && accidentals.has(note),
            tieIn: !isHead, tieOut: index < event.values.length - 1 || event.tiedOut === true, beams: place === 0 ? beams.get(value) : undefined,
            tupletEdge: place === 0 ? tupletEdge(value) : undefined,
          })
        })
      })
    }
  }

  private wholeRest(measure: XMLElement, event: Event, staff: Staff, manyStaves: boolean, voice: number) {
    const rest = measure.ele('note')
    rest.ele('rest', { measure: 'yes' })
    rest.ele('duration', event.end - event.start)
    rest.ele('voice', voice)
    if (manyStaves) rest.ele('staff', staff.number)
  }

  /** One <note>, its children in the order the format asks for. */
  private noteElement(measure: XMLElement, one: NoteParts) {
    const { note, value } = one
    const element = measure.ele('note', one.id ? { id: one.id } : one.isHidden ? { 'print-object': 'no' } : {})
    if (note?.grace) element.ele('grace', note.grace.slash ? { slash: 'yes' } : {})
    if (one.inChord) element.ele('chord')
    if (note) {
      const { step, alter, octave } = spelling(note, one.bar!)
      const pitch = element.ele('pitch')
      pitch.ele('step', step)
      if (alter !== 0) pitch.ele('alter', alter)
      pitch.ele('octave', octave)
    }
    else element.ele('rest')
    if (value) element.ele('duration', value.length)
    if (one.tieIn) element.ele('tie', { type: 'stop' })
    if (one.tieOut) element.ele('tie', { type: 'start' })
    element.ele('voice', one.voice)
    element.ele('type', value?.type ?? 'eighth')
    for (let dot = 0; dot < (value?.dots ?? 0); dot++) element.ele('dot')
    if (note && one.accidental) element.ele('accidental', ACCIDENTALS[String(spelling(note, one.bar!).alter)])
    if (value?.tuplet) {
      const modification = element.ele('time-modification')
      modification.ele('actual-notes', value.tuplet.actual)
      modification.ele('normal-notes', value.tuplet.normal)
    }
    if (one.manyStaves) element.ele('staff', one.staff.number)
    one.beams?.forEach((beam, index) => element.ele('beam', { number: index + 1 }, beam))
    if (note || one.tupletEdge) this.notations(element, one)
    if (note && (one.isHead || note.grace)) this.lyric(element, note)
  }

  private notations(element: XMLElement, one: NoteParts) {
    const { note } = one
    const isStart = note && (one.isHead || note.grace)
    const slurs = note ? (this.slurs.get(note.id) ?? []).filter(slur => slur.type === 'start' ? isStart : !one.tieOut) : []
    const articulations = isStart ? (note.articulations ?? []) : []
    const ornaments = isStart ? (note.ornaments ?? []) : []
    const finger = isStart ? note.finger : undefined
    if (!one.tieIn && !one.tieOut && !one.tupletEdge && slurs.length + articulations.length + ornaments.length === 0 && finger === undefined) return
    const notations = element.ele('notations')
    if (one.tieIn) notations.ele('tied', { type: 'stop' })
    if (one.tieOut) notations.ele('tied', { type: 'start' })
    for (const slur of slurs) notations.ele('slur', { ...slur })
    if (one.tupletEdge) notations.ele('tuplet', { type: one.tupletEdge })
    if (ornaments.length > 0) {
      const list = notations.ele('ornaments')
      for (const ornament of ornaments) if (ornament === 'tremolo') list.ele('tremolo', {}, '3'); else list.ele(ornament)
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
    for (const lyric of this.lyrics.get(note.id) ?? []) {
      const before = this.arrangement.lyrics.findLast(one => one.verse === lyric.verse && compare(one.onset, lyric.onset) < 0)
      const lyricElement = element.ele('lyric', { number: lyric.verse })
      lyricElement.ele('syllabic', before?.hyphen ? (lyric.hyphen ? 'middle' : 'end') : lyric.hyphen ? 'begin' : 'single')
      lyricElement.ele('text', lyric.text)
    }
  }

  private nextTiedId(note: Written): string {
    const given = this.tiedIds.get(note.id) ?? []
    let id = note.tiedIds[given.length]
    for (let count = given.length + 1; id === undefined; count++) {
      const fresh = `${note.id}.${count}`
      if (!this.usedIds.has(fresh)) id = fresh
    }
    this.usedIds.add(id)
    this.tiedIds.set(note.id, [...given, id])
    return id
  }

  /** Slurs open at one time need numbers of their own, 1 to 6 (MusicXML, number-level). */
  private numberSlurs() {
    const byId = new Map(this.arrangement.notes.map(note => [note.id, note]))
    const busy: { until: Quarters, number: number }[] = []
    for (const slur of this.arrangement.slurs ?? []) {
      const [from, to] = [byId.get(slur.from), byId.get(slur.to)]
      if (!from || !to) continue
      const open = busy.filter(one => compare(one.until, from.onset) > 0)
      const number = [1, 2, 3, 4, 5, 6].find(one => !open.some(other => other.number === one)) ?? 6
      busy.push({ until: later(to.onset, from.onset), number })
      this.slurs.set(from.id, [...this.slurs.get(from.id) ?? [], { type: 'start', number }])
      this.slurs.set(to.id, [{ type: 'stop', number }, ...this.slurs.get(to.id) ?? []])
    }
  }
}

interface Event { start: number, end: number, values: DrawnValue[], fill: boolean, chord?: VoiceChord, tiedIn?: boolean, tiedOut?: boolean }
interface NoteParts {
  note?: Written
  id?: string
  value?: DrawnValue
  bar?: Bar
  staff: Staff
  manyStaves: boolean
  voice: number
  inChord?: boolean
  isHead?: boolean
  isHidden?: boolean
  accidental?: boolean
  tieIn?: boolean
  tieOut?: boolean
  beams?: string[]
  tupletEdge?: 'start' | 'stop'
}

/** Marks that stand by themselves among a note's notations, not among its articulations. */
const OWN_NOTATIONS = ['fermata', 'arpeggiate']
const ACCIDENTALS: Record<string, string> = { '-2': 'flat-flat', '-1': 'flat', '0': 'natural', '1': 'sharp', '2': 'double-sharp' }
const SHARPS = ['F', 'C', 'G', 'D', 'A', 'E', 'B']

/** What a key signature makes of a letter. */
function keyAlter(step: string, fifths: number): number {
  const place = SHARPS.indexOf(step)
  return fifths > place ? 1 : -fifths > 6 - place ? -1 : 0
}

/** The written name of a note, or where that is not its pitch (a transposed part), the name in the bar's key. */
function spelling(note: Written, bar: Bar): { step: string, alter: number, octave: number } {
  const parse = (name: string) => {
    const [, step, signs, octave] = /^([A-G])(#*|b*)(-?\d+)$/.exec(name)!
    return { step: step!, alter: signs!.startsWith('#') ? signs!.length : -signs!.length, octave: Number(octave) }
  }
  const written = parse(note.spelled)
  return midiOf(written.step, written.alter, written.octave) === note.pitch ? written : parse(spellInKey(note.pitch, bar.fifths))
}

function chordsIn(chords: readonly VoiceChord[], bar: Bar): VoiceChord[] {
  const end = addQuarters(bar.start, bar.length)
  return chords.filter(chord => compare(chord.onset, end) < 0
    && (compare(chord.end, bar.start) > 0 || (compare(chord.onset, bar.start) >= 0 && compare(chord.end, chord.onset) === 0)))
}

/** A bar's notes lie in the other clef when they are this far from their own, as MIDI numbers: first to change, then to change back. */
const CLEF_TURNS = { G: { away: 50, back: 58 }, F: { away: 69, back: 60 } }

function clefsByBar(bars: readonly Bar[], notes: readonly Written[], home: 'G' | 'F'): string[] {
  const sums = bars.map(() => ({ sum: 0, count: 0 }))
  for (const note of notes) {
    const bar = sums[note.barIndex]!
    bar.sum += note.pitch
    bar.count++
  }
  let clef: 'G' | 'F' = home
  const other = home === 'G' ? 'F' : 'G'
  const turns = CLEF_TURNS[home]
  return sums.map(({ sum, count }) => {
    if (count === 0) return clef
    const mean = sum / count
    const away = home === 'G' ? mean < turns.away : mean > turns.away
    const back = home === 'G' ? mean > turns.back : mean < turns.back
    clef = clef === home && away ? other : clef !== home && back ? home : clef
    return clef
  })
}

/** The beam words of each value: chords with flags that follow each other within a group. */
function beamsOf(events: readonly Event[], groupOf: (value: DrawnValue) => string): Map<DrawnValue, string[]> {
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
      const [before, after] = [values[index - 1], values[index + 1]].map(one => one ? flagsOf(one.type) : 0) as [number, number]
      beams.set(value, Array.from({ length: flagsOf(value.type) }, (_, level) => {
        const [left, right] = [before > level, after > level]
        return left && right ? 'continue' : right ? 'begin' : left ? 'end' : before > 0 ? 'backward hook' : 'forward hook'
      }))
    })
  }
  return beams
}

function tupletEdge({ start, length, tuplet }: DrawnValue): 'start' | 'stop' | undefined {
  if (!tuplet) return undefined
  return start === tuplet.start ? 'start' : start + length === tuplet.end ? 'stop' : undefined
}

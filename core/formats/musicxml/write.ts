import { bisector } from 'd3-array'
import { create, type XMLElement } from 'xmlbuilder'
import type { Arrangement, Bar, Hand, Note } from '../../music/arrangement'
import { barLength } from '../../music/meter'
import { add as addQuarters, compare, equal, subtract, type Quarters } from '../../music/quarters'
import type { ReadScore } from './read'
import { BarMarks } from './write-marks'
import { beamGroup, drawValues, inUnits, unitsFor } from './note-values'
import { beamsOf, keyAlter, NoteWriter, spelling, tupletEdge, type Event } from './write-notes'
import { layVoices, type VoiceChord } from './voices'

type Written = Omit<Note, 'hand'>
export interface Staff {
  number: number
  hand?: Hand
  voices: VoiceChord[][]
  clefs: string[]
}

/**
 * Writes an arrangement as MusicXML 4.0: a part for each other role that somebody plays and that has pitches, then the
 * piano, right hand above left. Every note keeps its id; where it takes more noteheads tied together, the further ones
 * are named in `tiedIds` of the arrangement that is given back. Throws NotExact for positions too fine for note values.
 * `bars`: only so many from the beginning are written, to be looked at.
 */
export function writeMusicXml(arrangement: Arrangement, bars = arrangement.bars.length): ReadScore {
  const moments: Quarters[] = arrangement.bars.flatMap(bar => [bar.start, bar.length, bar.offset])
  for (const note of [...arrangement.notes, ...writtenRoles(arrangement).flatMap(role => role.notes)])
    moments.push(note.onset, addQuarters(note.onset, note.duration))
  for (const { onset } of [
    ...arrangement.chords,
    ...arrangement.pedals,
    ...arrangement.dynamics,
    ...arrangement.tempos,
  ])
    moments.push(onset)
  const writer = new ScoreWriter(
    bars < arrangement.bars.length ? beginningOf(arrangement, bars) : arrangement,
    unitsFor(moments),
  )
  const musicXml = writer.write()
  // The parts are those of the new document.
  const { partPlays: _before, ...withoutParts } = arrangement
  const withTies = <T extends Written>(note: T): T => ({ ...note, tiedIds: writer.notes.tiedIds.get(note.id) ?? [] })
  return {
    musicXml,
    arrangement: {
      ...withoutParts,
      notes: arrangement.notes.map(withTies),
      others: arrangement.others.map(role => ({ ...role, notes: role.notes.map(withTies) })),
    },
  }
}

/** The first bars of an arrangement. Notes that sound on end with them. */
function beginningOf(arrangement: Arrangement, bars: number): Arrangement {
  const last = arrangement.bars[bars - 1]!
  const end = addQuarters(last.start, last.length)
  const within = <T extends { onset: Quarters }>(marks: readonly T[]) =>
    marks.filter(mark => compare(mark.onset, end) < 0)
  const notesWithin = <T extends Written>(notes: readonly T[]) =>
    within(notes).map(note =>
      compare(addQuarters(note.onset, note.duration), end) > 0
        ? { ...note, duration: subtract(end, note.onset) }
        : note,
    )
  return {
    ...arrangement,
    bars: arrangement.bars.slice(0, bars),
    notes: notesWithin(arrangement.notes),
    others: arrangement.others.map(role => ({ ...role, notes: notesWithin(role.notes) })),
    chords: within(arrangement.chords),
    lyrics: within(arrangement.lyrics),
    pedals: within(arrangement.pedals),
    dynamics: within(arrangement.dynamics),
    tempos: within(arrangement.tempos),
    rehearsals: within(arrangement.rehearsals),
  }
}

/** Drums have no pitches to be written as, and what nobody plays is not on the page. */
const writtenRoles = ({ others }: Arrangement) => others.filter(role => !role.percussion && !role.silent)

/** Writes bars of an arrangement, `units` divisions to a quarter note. */
export class ScoreWriter {
  constructor(
    private readonly arrangement: Arrangement,
    private readonly units: number,
    readonly notes = new NoteWriter(arrangement),
  ) {}

  write(): string {
    const { arrangement } = this
    const score = create('score-partwise', { encoding: 'UTF-8' }).att('version', '4.0')
    score.ele('work').ele('work-title', arrangement.title)
    const identification = score.ele('identification')
    if (arrangement.composer) identification.ele('creator', { type: 'composer' }, arrangement.composer)
    identification.ele('encoding').ele('software', 'Half Step')
    const list = score.ele('part-list')
    const roles = writtenRoles(arrangement).map((role, index) => ({
      id: `R${index + 1}`,
      name: role.name,
      staves: [this.staff(1, role.notes)],
    }))
    const hands = [
      this.staff(
        1,
        arrangement.notes.filter(note => note.hand === 'right'),
        'right',
      ),
      this.staff(
        2,
        arrangement.notes.filter(note => note.hand === 'left'),
        'left',
      ),
    ]
    const parts = [...roles, { id: 'P1', name: 'Piano', staves: hands }]
    for (const part of parts) list.ele('score-part', { id: part.id }).ele('part-name', part.name)
    for (const part of parts) {
      const element = score.ele('part', { id: part.id })
      const isPiano = part.id === 'P1'
      const marks = isPiano ? new BarMarks(arrangement, this.units) : undefined
      arrangement.bars.forEach((bar, index) =>
        this.measure(element, bar, arrangement.bars[index - 1], part.staves, marks),
      )
    }
    return score.end({ pretty: true, indent: ' ' })
  }

  staff(number: number, notes: readonly Written[], hand?: Hand): Staff {
    return {
      number,
      hand,
      voices: layVoices(notes),
      clefs: clefsByBar(this.arrangement.bars, notes, hand === 'left' ? 'F' : 'G'),
    }
  }

  measure(part: XMLElement, bar: Bar, before: Bar | undefined, staves: readonly Staff[], marks?: BarMarks) {
    const isWhole = equal(bar.length, barLength(bar.meter))
    const measure = part.ele('measure', { number: bar.number, ...(isWhole ? {} : { implicit: 'yes' }) })
    this.leftBarline(measure, bar, before)
    this.attributes(measure, bar, before, staves)
    this.voices(measure, bar, staves, marks)
    if (marks) marks.writeJumps(measure, bar)
    this.rightBarline(measure, bar, this.arrangement.bars[bar.index + 1])
  }

  /**
   * The notes and rests of a bar, voice after voice, with the marks between those of the first. `nameOf`: what a voice
   * is called in the document.
   */
  voices(
    measure: XMLElement,
    bar: Bar,
    staves: readonly Staff[],
    marks?: Pick<BarMarks, 'writeWithin'>,
    nameOf: (staff: Staff, voice: number) => string = usualVoice,
  ): void {
    const length = inUnits(bar.length, this.units)
    let first = true
    for (const staff of staves) {
      const voices = staff.voices
        .map((chords, voice) => ({ voice, chords: chordsIn(chords, bar) }))
        .filter(one => one.chords.length > 0)
      if (voices.length === 0) voices.push({ voice: 0, chords: [] })
      const accidentals = new Map<string, number>()
      // Accidentals count for the staff from left to right, whatever the voice: they are decided in that order first.
      const drawn = voices.map(({ voice, chords }, place) => ({
        voice,
        place,
        events: this.events(chords, bar, place === 0),
      }))
      const shown = this.showAccidentals(
        drawn.flatMap(one => one.events),
        bar,
        accidentals,
      )
      for (const { voice, events } of drawn) {
        if (!first) measure.ele('backup').ele('duration', length)
        this.voice(
          measure,
          events,
          bar,
          staff,
          staves.length > 1,
          nameOf(staff, voice),
          shown,
          first ? marks : undefined,
        )
        first = false
      }
    }
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
    const beginsEnding =
      bar.endings &&
      bar.endings !== before?.endings &&
      bar.endings.join() !== (before?.repeatEnd ? '' : before?.endings?.join())
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
    if (bar.repeatEnd)
      line.ele('repeat', { direction: 'backward', ...(bar.repeatEnd > 2 ? { times: bar.repeatEnd } : {}) })
  }

  /**
   * A voice's bar as chords and, between them, rests, each drawn as note values. Only a staff's first voice shows its
   * rests (`fill`).
   */
  private events(chords: readonly VoiceChord[], bar: Bar, fill: boolean): Event[] {
    const { units } = this
    const from = inUnits(bar.start, units)
    const length = inUnits(bar.length, units)
    const items: Omit<Event, 'values'>[] = []
    let at = 0
    for (const chord of chords) {
      const start = Math.max(0, inUnits(chord.onset, units) - from)
      const end = Math.min(length, inUnits(chord.end, units) - from)
      if (start > at) items.push({ start: at, end: start, fill })
      items.push({
        start,
        end,
        chord,
        fill,
        tiedIn: inUnits(chord.onset, units) < from,
        tiedOut: inUnits(chord.end, units) > from + length,
      })
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

  private voice(
    measure: XMLElement,
    events: readonly Event[],
    bar: Bar,
    staff: Staff,
    manyStaves: boolean,
    voice: string,
    accidentals: Set<Written>,
    marks: Pick<BarMarks, 'writeWithin'> | undefined,
  ) {
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
        if (event.fill && event.start === 0 && event.end === inUnits(barLength(bar.meter), this.units))
          this.notes.wholeRest(measure, event.end - event.start, staff.number, manyStaves, voice)
        else
          for (const value of event.values)
            this.notes.write(measure, {
              value,
              staff,
              manyStaves,
              voice,
              tupletEdge: tupletEdge(value),
              isHidden: !event.fill,
            })
        continue
      }
      for (const grace of chord.graces)
        if (event.tiedIn !== true)
          this.notes.write(measure, {
            note: grace,
            id: grace.id,
            bar,
            staff,
            manyStaves,
            voice,
            accidental: accidentals.has(grace),
          })
      event.values.forEach((value, index) => {
        chord.notes.forEach((note, place) => {
          const isHead = index === 0 && !event.tiedIn
          this.notes.write(measure, {
            note,
            value,
            bar,
            staff,
            manyStaves,
            voice,
            inChord: place > 0,
            isHead,
            id: isHead ? note.id : this.notes.nextTiedId(note),
            accidental: isHead && accidentals.has(note),
            tieIn: !isHead,
            tieOut: index < event.values.length - 1 || event.tiedOut === true,
            beams: place === 0 ? beams.get(value) : undefined,
            tupletEdge: place === 0 ? tupletEdge(value) : undefined,
          })
        })
      })
    }
  }
}

/** Four voices to a staff. */
const usualVoice = (staff: Staff, voice: number): string => String(voice + 1 + 4 * (staff.number - 1))

/** A voice's chords follow each other without overlapping, so they are sorted by their ends too. */
const chordByEnd = bisector((chord: VoiceChord, at: Quarters) => compare(chord.end, at))

/** What of a voice sounds or, being only grace notes, stands in a bar. */
function chordsIn(chords: readonly VoiceChord[], bar: Bar): VoiceChord[] {
  const end = addQuarters(bar.start, bar.length)
  const found: VoiceChord[] = []
  for (let at = chordByEnd.left(chords, bar.start); at < chords.length && compare(chords[at]!.onset, end) < 0; at++) {
    const chord = chords[at]!
    if (compare(chord.end, bar.start) > 0 || (compare(chord.onset, bar.start) >= 0 && equal(chord.end, chord.onset)))
      found.push(chord)
  }
  return found
}

/**
 * A bar's notes lie in the other clef when they are this far from their own, as MIDI numbers: first to change, then to
 * change back.
 */
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

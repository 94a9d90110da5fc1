import type { Arrangement, Bar, Hand, Note, OtherRole, Slur } from '../../music/arrangement'
import { barLength, type Meter } from '../../music/meter'
import { playingOrder } from '../../music/playing-order'
import { rangeOf, type VoiceAssignment, type Strike, type VoiceChoice, type VoiceNotes } from '../../music/voice'
import { add, compare, earlier, equal, later, subtract, toDecimal, ZERO, type Quarters } from '../../music/quarters'
import { LIMITS } from '../../music/limits'
import { UnusableInput } from '../unusable'
import { musicXmlText } from './archive'
import { assignHands } from './hands'
import { creditsOf } from './credits'
import { giveIds } from './ids'
import { readPart, type WrittenBar, type WrittenNote, type WrittenPart } from './part'
import { collectWarnings, type Warnings } from './warnings'
import { child, children, parseXml, textOf, type XmlElement } from './xml'

/** The title of a score that does not name itself. */
export const UNTITLED = 'Untitled'

export interface ReadScore {
  arrangement: Arrangement
  /** The same MusicXML, every played notehead carrying the id it has in the arrangement, for engraving. */
  musicXml: string
}

/**
 * Reads a MusicXML score (`score-partwise`; bytes of .musicxml, .xml or .mxl) into an arrangement; `choice`: who plays
 * which part, where it is decided. What is in the file and is not used stands in `warnings`. Throws UnusableInput,
 * naming the place, for a file that is damaged, too large, or not such a score.
 */
export function readMusicXml(bytes: Uint8Array, choice: VoiceChoice = {}): ReadScore & { voices: VoiceNotes[] } {
  return understood(parseScore(musicXmlText(bytes)), choice)
}

/** The text of a score and its parts as they are written in it, each element with its place in the text. */
export interface WrittenScore {
  text: string
  root: XmlElement
  parts: WrittenPart[]
  bars: Bar[]
  warnings: Warnings
}

/** Takes a score's text apart. Throws UnusableInput. */
export function parseScore(text: string): WrittenScore {
  const root = parseXml(text)
  if (root.name === 'score-timewise')
    throw new UnusableInput(`line ${root.line}`, 'a score-timewise file; only score-partwise is read')
  if (root.name !== 'score-partwise')
    throw new UnusableInput(
      `line ${root.line}`,
      `a <score-partwise> was expected and <${root.name.slice(0, 40)}> was found`,
    )
  const warnings = collectWarnings()
  const parts = readParts(root, warnings)
  return { text, root, parts, bars: layOutBars(parts, warnings), warnings }
}

/** The arrangement that a score's text is, and who plays what in it. */
export function understood(
  { text, root, parts, bars, warnings }: WrittenScore,
  choice: VoiceChoice,
): ReadScore & { voices: VoiceNotes[] } {
  const { notes, musicXml } = giveIds(text, parts)
  const { plays, handOf } = assignHands(parts, warnings, choice)
  const voices = voicesOfParts({ parts, bars }, plays)

  const played = joinTies(
    notes.filter(one => handOf(one.part, one.note.staff, one.note)),
    bars,
    warnings,
  )
    .map(({ part, staff: _staff, head, ...note }): Note => ({ ...note, hand: handOf(part, head.staff, head)! }))
    .sort(byOnset)
  if (played.length === 0) throw new UnusableInput('the whole score', 'at least one note for a hand was expected')
  const others = parts
    .filter((_, index) => plays[index] === 'role')
    .map((part): OtherRole => ({
      name: part.name,
      notes: joinTies(
        notes.filter(one => one.part === part),
        bars,
        warnings,
      )
        .map(({ part: _part, staff: _staff, head: _head, ...note }) => note)
        .sort(byOnset),
    }))

  const at = (mark: { barIndex: number; onset: Quarters }) => add(bars[mark.barIndex]!.start, mark.onset)
  const fromHands = parts.filter((_, index) => !['role', 'nobody'].includes(plays[index]!))
  const marks = <T extends { barIndex: number; onset: Quarters }, R>(
    pick: (part: WrittenPart) => T[],
    make: (mark: T, onset: Quarters, part: WrittenPart) => R,
    from = parts,
  ) =>
    from
      .flatMap(part => pick(part).map(mark => ({ onset: at(mark), made: make(mark, at(mark), part) })))
      .sort((a, b) => compare(a.onset, b.onset))
      .map(({ made }) => made)

  const printed = creditsOf(root)
  const arrangement: Arrangement = {
    format: 'half-step/arrangement',
    version: 1,
    title: textOf(child(root, 'work'), 'work-title') || textOf(root, 'movement-title') || printed.title || UNTITLED,
    composer: (
      children(child(root, 'identification'), 'creator')
        .find(one => one.attributes.type === 'composer')
        ?.text.trim() || printed.composer
    ).slice(0, LIMITS.textLength),
    bars,
    order: playingOrder(bars),
    notes: played,
    others,
    chords: marks(
      part => part.chords,
      ({ barIndex: _bar, element: _element, ...chord }, onset) => ({ ...chord, onset }),
    ).filter(
      (chord, index, all) =>
        index === 0 || chord.symbol !== all[index - 1]!.symbol || !equal(chord.onset, all[index - 1]!.onset),
    ),
    lyrics: notes
      .filter(({ part }) => plays[parts.indexOf(part)] !== 'nobody')
      .flatMap(({ id, note }) => note.lyrics.map(lyric => ({ noteId: id, onset: at(note), ...lyric })))
      .sort((a, b) => compare(a.onset, b.onset)),
    pedals: marks(
      part => part.pedals,
      ({ kind }, onset) => ({ onset, kind }),
      fromHands,
    ),
    dynamics: marks(
      part => part.dynamics,
      ({ mark, staff }, onset, part) => {
        const hand: Hand | undefined = staff > 0 && part.staves > 1 ? handOf(part, staff) : undefined
        return hand ? { onset, mark, hand } : { onset, mark }
      },
      fromHands,
    ),
    tempos: marks(
      part => part.tempos,
      ({ quarterBpm }, onset) => ({ onset, quarterBpm }),
    ).filter((tempo, index, all) => !all[index + 1] || !equal(all[index + 1]!.onset, tempo.onset)),
    swings: marks(
      part => part.swings,
      ({ barIndex: _bar, element: _element, ...swing }, onset) => ({ ...swing, onset }),
    ),
    tempoWords: marks(
      part => part.tempoWords,
      ({ kind }, onset) => ({ onset, kind }),
    ),
    rehearsals: marks(
      part => part.rehearsals,
      ({ name }, onset) => ({ onset, name }),
    ).filter((mark, index, all) => index === 0 || !equal(all[index - 1]!.onset, mark.onset)),
    partPlays: plays,
    warnings: [],
  }
  const slurs = joinSlurs(
    notes.filter(one => handOf(one.part, one.note.staff, one.note)),
    played,
  )
  if (slurs.length > 0) arrangement.slurs = slurs
  arrangement.warnings = warnings.all()
  return { arrangement, musicXml, voices }
}

/** The parts of a score as voices, to be shown and heard. */
export function voicesOfParts(
  { parts, bars }: Pick<WrittenScore, 'parts' | 'bars'>,
  plays: readonly VoiceAssignment[],
): VoiceNotes[] {
  const strikesOf = (part: WrittenPart): Strike[] =>
    part.notes
      .filter(note => !note.grace)
      .map(note => ({
        onset: toDecimal(add(bars[note.barIndex]!.start, note.onset)),
        length: toDecimal(note.duration),
        pitch: note.pitch,
      }))
  return parts.map((part, index) => ({
    number: index + 1,
    name: part.name || part.id,
    instrument: part.instrument,
    ...rangeOf(part.notes),
    plays: plays[index]!,
    strikes: strikesOf(part),
  }))
}

function readParts(root: XmlElement, warnings: Warnings): WrittenPart[] {
  const named = new Map(
    children(child(root, 'part-list'), 'score-part').map(part => [
      part.attributes.id,
      { name: textOf(part, 'part-name'), instrument: textOf(child(part, 'score-instrument'), 'instrument-name') },
    ]),
  )
  const elements = children(root, 'part')
  if (elements.length === 0) throw new UnusableInput(`line ${root.line}`, 'the score has no <part>')
  if (elements.length > LIMITS.parts) throw new UnusableInput(`line ${root.line}`, `more than ${LIMITS.parts} parts`)
  const parts = elements.map(element =>
    readPart(element, named.get(element.attributes.id) ?? { name: '', instrument: '' }, warnings),
  )
  const total = parts.reduce((sum, part) => sum + part.notes.length, 0)
  if (total > LIMITS.notes) throw new UnusableInput('the whole score', `more than ${LIMITS.notes} notes`)
  return parts
}

/** The bars on the common time line of all parts: each as long as its longest part, an empty one as its meter. */
function layOutBars(parts: readonly WrittenPart[], warnings: Warnings): Bar[] {
  const count = Math.max(...parts.map(part => part.bars.length))
  if (count === 0) throw new UnusableInput('the whole score', 'the score has no bars')
  if (parts.some(part => part.bars.length !== count)) warnings.note({ kind: 'parts-of-other-length' })
  const bars: Bar[] = []
  let meter: Meter = { beats: 4, beatType: 4 }
  let fifths = 0
  let start = ZERO
  let endings: number[] | undefined
  for (let index = 0; index < count; index++) {
    const written = parts.flatMap(part => part.bars[index] ?? [])
    meter = written.find(bar => bar.meter)?.meter ?? meter
    fifths = written.find(bar => bar.fifths !== undefined)?.fifths ?? fifths
    const whole = barLength(meter)
    const implicit = written.some(bar => bar.implicit)
    const halves = [splitLength(parts, index - 1, whole), splitLength(parts, index, whole)]
    const length = halves[1]?.[0] ?? halves[0]?.[1] ?? lengthOf(written, whole, implicit)
    const previous = bars.at(-1)
    const label = written[0]!.label
    const continues =
      previous !== undefined &&
      compare(length, whole) < 0 &&
      compare(add(previous.offset, previous.length), whole) < 0 &&
      compare(add(add(previous.offset, previous.length), length), whole) <= 0 &&
      (implicit || halves[0] !== undefined || !/^\d+$/.test(label))
    const offset =
      index === 0 && compare(length, whole) < 0
        ? subtract(whole, length)
        : continues
          ? add(previous.offset, previous.length)
          : ZERO
    const barlines = written.map(bar => bar.barline)
    endings = barlines.find(barline => barline.endings)?.endings ?? endings
    const repeatEnd = Math.max(0, ...barlines.map(barline => barline.repeatEnd ?? 0))
    const number = continues
      ? previous.number
      : barNumber(label, index, index === 0 && compare(length, whole) < 0 && implicit, previous)
    if (compare(length, whole) > 0) warnings.note({ kind: 'bar-too-long' }, label)
    else if (compare(length, whole) < 0 && index > 0 && index < count - 1 && !implicit && !continues && !repeatEnd) {
      warnings.note({ kind: 'bar-too-short' }, label)
    }
    bars.push({
      index,
      number,
      start,
      length,
      offset,
      meter,
      fifths,
      ...(barlines.some(barline => barline.repeatStart) ? { repeatStart: true } : {}),
      ...(repeatEnd ? { repeatEnd } : {}),
      ...(endings ? { endings } : {}),
      ...(barlines.some(barline => barline.sectionEnd) ? { sectionEnd: true } : {}),
      ...Object.assign({}, ...written.map(bar => bar.jumps)),
    })
    if (barlines.some(barline => barline.endingStops)) endings = undefined
    start = add(start, length)
  }
  return bars
}

/**
 * The lengths of a bar and the next where they are the halves of one that is split at a repeat sign, each filled up
 * with rests that are not printed: what is printed in both makes up one bar.
 */
function splitLength(parts: readonly WrittenPart[], index: number, whole: Quarters): [Quarters, Quarters] | undefined {
  const [first, second] = [index, index + 1].map(at => parts.flatMap(part => part.bars[at] ?? []))
  if (!first?.length || !second?.length || second.some(bar => bar.meter)) return undefined
  const isRepeat = first.some(bar => bar.barline.repeatEnd) || second.some(bar => bar.barline.repeatStart)
  const isFilled = [first, second].some(bars => bars.some(bar => compare(bar.shown, bar.content) < 0))
  const lengths = [first, second].map(bars => bars.reduce((most, bar) => later(most, bar.shown), ZERO)) as [
    Quarters,
    Quarters,
  ]
  return isRepeat && isFilled && lengths.every(length => compare(length, ZERO) > 0) && equal(add(...lengths), whole)
    ? lengths
    : undefined
}

/**
 * How long a bar is: as its notes say. Rests, which other parts may write for a whole bar of any length, fill it up to
 * its meter.
 */
function lengthOf(written: readonly WrittenBar[], whole: Quarters, implicit: boolean): Quarters {
  const longest = (bars: readonly WrittenBar[]) => bars.reduce((most, bar) => later(most, bar.content), ZERO)
  const sounding = longest(written.filter(bar => !bar.isSilent))
  if (!equal(sounding, ZERO) && implicit) return sounding
  const silent = earlier(longest(written.filter(bar => bar.isSilent)), whole)
  const length = later(sounding, silent)
  return equal(length, ZERO) ? whole : length
}

function barNumber(label: string, index: number, pickup: boolean, previous: Bar | undefined): number {
  if (pickup) return 0
  if (/^\d{1,6}$/.test(label)) return Number(label)
  return previous ? previous.number + 1 : index + 1
}

interface Numbered {
  part: WrittenPart
  note: WrittenNote
  id: string
}

/** Makes one note of each chain of tied noteheads. */
function joinTies(numbered: readonly Numbered[], bars: readonly Bar[], warnings: Warnings) {
  type Joined = Omit<Note, 'hand'> & { part: WrittenPart; staff: number; head: WrittenNote }
  const joined: Joined[] = []
  const open = new Map<string, Joined[]>()
  const inTime = numbered
    .map(one => ({ ...one, onset: add(bars[one.note.barIndex]!.start, one.note.onset) }))
    .sort((a, b) => compare(a.onset, b.onset))
  for (const { part, note, id, onset } of inTime) {
    const key = `${part.id}:${note.pitch}`
    const waiting = open.get(key) ?? []
    const ending = waiting.filter(one => equal(add(one.onset, one.duration), onset))
    const before = note.tieStop
      ? (ending.find(one => one.voice === note.voice && one.staff === note.staff) ?? ending[0])
      : undefined
    if (before) {
      before.duration = add(before.duration, note.duration)
      before.tiedIds.push(id)
      before.tiedAt = [...(before.tiedAt ?? []), onset]
      before.articulations = [...new Set([...(before.articulations ?? []), ...note.articulations])]
      if (!note.tieStart)
        open.set(
          key,
          waiting.filter(one => one !== before),
        )
      continue
    }
    if (note.tieStop) warnings.note({ kind: 'tie-from-nowhere' }, String(bars[note.barIndex]!.number))
    const fresh: Joined = {
      id,
      barIndex: note.barIndex,
      onset,
      duration: note.duration,
      pitch: note.pitch,
      spelled: note.spelled,
      voice: note.voice,
      tiedIds: [],
      part,
      staff: note.staff,
      head: note,
      ...(note.finger === undefined ? {} : { finger: note.finger }),
      ...(note.grace ? { grace: note.grace } : {}),
      articulations: note.articulations,
      ...(note.ornaments.length > 0 ? { ornaments: note.ornaments } : {}),
    }
    joined.push(fresh)
    if (note.tieStart) open.set(key, [...waiting, fresh])
  }
  for (const note of joined) if (note.articulations?.length === 0) delete note.articulations
  return joined
}

/**
 * Pairs the beginnings and ends of slurs, part by part and number by number; a notehead tied to an earlier one stands
 * for its note.
 */
function joinSlurs(numbered: readonly Numbered[], played: readonly Note[]): Slur[] {
  const noteOf = new Map(
    played.flatMap(note => [note.id, ...note.tiedIds].map((id): [string, string] => [id, note.id])),
  )
  const open = new Map<string, string>()
  const slurs: Slur[] = []
  for (const { part, note, id } of numbered) {
    for (const { type, number } of [...note.slurs].sort((a, b) =>
      a.type === b.type ? 0 : a.type === 'stop' ? -1 : 1,
    )) {
      const key = `${part.id}:${number}`
      const from = open.get(key)
      if (type === 'start') open.set(key, noteOf.get(id)!)
      else if (from !== undefined) {
        open.delete(key)
        if (from !== noteOf.get(id)) slurs.push({ from, to: noteOf.get(id)! })
      }
    }
  }
  return slurs
}

function byOnset(a: Omit<Note, 'hand'>, b: Omit<Note, 'hand'>): number {
  return compare(a.onset, b.onset) || (b.grace?.before ?? 0) - (a.grace?.before ?? 0) || a.pitch - b.pitch
}

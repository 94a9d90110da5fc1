import { bisectLeft, bisectRight, bisector, median } from 'd3-array'
import { arrangementEnd, barAt, type Arrangement, type Note } from '../music/arrangement'
import { feltBeatQuarters } from '../music/meter'
import { barsInto, isEnding } from '../music/bar-count'
import { add, subtract, toDecimal, type Quarters } from '../music/quarters'

/** A place at which a phrase may end and the next begin: how much speaks for it, and whether the score itself says so. */
export interface PhraseEnd {
  at: Quarters
  /** Bars since the beginning of a section that phrases of four bars fit into; undefined where none is known. */
  sinceSection?: number
  /** On a bar line, or at the place in the bar where the song begins. */
  isLine: boolean
  /** Bars from the beginning, the pickup's share counted in; a second ending lies where the first does. */
  bars: number
  evidence: number
  /** What the score's own signs say of it: a section ends. */
  sign: number
}

/** How much each kind of evidence counts where it is full; own choice, set on hymns, songs and made melodies (docs/learning-songs.md). */
export const EVIDENCE = {
  /** The melody's last note lasts four times as long as is usual here; all hands stop as long; the melody rests for a quarter note or more. */
  long: 2.4, still: 4, rest: 1.2,
  /** Nothing sounds across; the bass rises a fourth (or falls a fifth) into the last chord. */
  together: 1.2, cadence: 1.6,
  /** The place in the bar at which the song begins; no beat. */
  place: 1, offBeat: -1.5,
  /** So many bars after a section's beginning that phrases of four (half as much: two) bars fit. */
  grid: 0.3,
  /** The same, in a section of eight, twelve, sixteen … bars. */
  square: 1.2,
  /** An ending begins: it belongs to what is before it. */
  ending: -8,
  /** The last note of the melody is struck on the first beat, or in the middle of the bar (three quarters of it). */
  strong: 0.4,
  /** The melody is held across. */
  held: -3,
  /** A slur ends; a breath mark, caesura or fermata. */
  slur: 0.6, breath: 3,
  /** Words: a sentence ends, a comma, a capital letter begins. */
  sentence: 1.2, comma: 0.7, capital: 0.6,
}

/** Own choice: how much the score's signs say. */
export const SIGNS = { rehearsal: 8, repeat: 7, double: 6, key: 4, meter: 3, tempo: 3, jump: 5 }
/** A sign from here on begins a section for sure. */
const SURE = 5

interface Sounding { from: number, to: number, pitch: number, note: Omit<Note, 'hand'> }

/** All places at which a part might begin, with what speaks for each, in order; the beginning is not one. */
export function phraseEnds(arrangement: Arrangement): PhraseEnd[] {
  return weigh(arrangement)
    .map(({ evidence, ...end }) => ({ ...end, evidence: compressed(total(evidence)), stops: STOPS.some(kind => (evidence[kind] ?? 0) > 0) }))
    // In the middle of a bar something begins only where the music has stopped, clearly.
    .filter(end => end.isLine || end.sign > 0 || (end.stops && end.evidence >= CLEAR))
    .map(({ stops: _, ...end }) => end)
}

/** Own choice. */
const CLEAR = 2.6

const STOPS = ['long', 'still', 'rest', 'breath', 'slur', 'sentence', 'comma'] as const

type Kind = keyof typeof EVIDENCE
const total = (evidence: Partial<Record<Kind, number>>): number =>
  (Object.entries(evidence) as [Kind, number][]).reduce((sum, [kind, share]) => sum + EVIDENCE[kind] * share, 0)

/** Much evidence says little more than enough of it. */
export const compressed = (evidence: number): number => evidence <= 0 ? evidence : ENOUGH.at * Math.tanh(evidence / ENOUGH.at)
export const ENOUGH = { at: 5 }

export function weigh(arrangement: Arrangement): { at: Quarters, bars: number, sinceSection?: number, isLine: boolean, sign: number, evidence: Partial<Record<Kind, number>> }[] {
  const place = barsInto(arrangement)
  const hands = soundingOf(arrangement.notes)
  const lines = [melodyOf(soundingOf(arrangement.notes.filter(note => note.hand === 'right')), hands), ...sungLines(arrangement)].filter(line => line.length > 0).map(line => ({ line, long: longness(stepsOf(line.map(note => note.from)), place) }))
  const texture = textureOf(hands)
  const still = longness(stepsOf(texture.onsets), place)
  const first = lines.length > 0 ? Math.min(...lines.map(({ line }) => line[0]!.from)) : 0
  const signs = signsOf(arrangement)
  const words = wordsOf(arrangement)
  const slurEnds = new Set((arrangement.slurs ?? []).map(slur => slur.to))
  const beginning = barPlace(arrangement, first)
  const end = toDecimal(arrangementEnd(arrangement))
  const moments = new Map<number, Quarters>()
  for (const bar of arrangement.bars) moments.set(toDecimal(bar.start), bar.start)
  for (const { line } of lines) for (const { from, note } of line) moments.set(from, note.onset)
  for (const { onset } of arrangement.rehearsals) moments.set(toDecimal(onset), onset)
  const sectionStarts = [0, ...[...signs].filter(([from, sign]) => sign >= SURE && from < end - 1e-6).map(([from]) => from).sort((a, b) => a - b)].map(place)
  const isSquare = (section: number) => sectionStarts.length > 1 && isSquareLength((sectionStarts[section + 1] ?? place(end)) - sectionStarts[section]!)
  const endings = new Set(arrangement.bars.filter((bar, index) => isEnding(arrangement.bars, index) && (bar.endings ?? []).join() !== (arrangement.bars[index - 1]?.endings ?? []).join()).map(bar => toDecimal(bar.start)))
  return [...moments].filter(([from]) => from > 1e-9 && from < end - 1e-9).sort((a, b) => a[0] - b[0]).map(([from, at]) => {
    const own = lines.map(({ line, long }) => lineEvidence(line, long, from, slurEnds, words))
    const { evidence, last } = own.reduce((best, one) => total(one.evidence) > total(best.evidence) ? one : best, own[0] ?? { evidence: {} })
    const inBar = barPlace(arrangement, from)
    const isAtPlace = Math.abs(inBar.quarters - beginning.quarters) < 1e-6
    const section = Math.max(0, bisectRight(sectionStarts, place(from) - 0.5) - 1)
    const sinceSection = place(from) - sectionStarts[section]!
    const grid = isAtPlace || inBar.quarters < 1e-6 ? onGrid(sinceSection) : 0
    const isOnBeat = Math.abs(inBar.beats - Math.round(inBar.beats)) < 1e-6
    const before = texture.before(from)
    return {
      at, bars: place(from), ...(isSquare(section) ? { sinceSection } : {}), isLine: isAtPlace || inBar.quarters < 1e-6, sign: signs.get(from) ?? 0,
      evidence: {
        ...evidence,
        ...(before && { still: still(before.step), together: before.isHeldOver ? 0 : 1, cadence: before.bassRises ? 1 : 0 }),
        grid, square: isSquare(section) ? grid : 0, ending: endings.has(from) ? 1 : 0, place: isAtPlace ? 1 : isHalfBarAway(arrangement, inBar.quarters - beginning.quarters, from) || inBar.quarters < 1e-6 ? 0.5 : 0, offBeat: isOnBeat ? 0 : 1, ...(last !== undefined && { strong: strength(arrangement, last) }),
      },
    }
  })
}

const share = (value: number): number => Math.max(0, Math.min(1, value))

/** Whether phrases of four, or two, bars fit into so many bars; a pickup may be missing, or too much. */
function onGrid(bars: number): number {
  const isMultiple = (phrase: number) => Math.abs(bars - phrase * Math.round(bars / phrase)) < 0.5
  return isMultiple(4) ? 1 : isMultiple(2) ? 0.5 : 0
}

/** Eight bars or a multiple of four beyond; a pickup may be missing, or too much. */
const isSquareLength = (bars: number): boolean => bars > 7.5 && Math.abs(bars - 4 * Math.round(bars / 4)) < 0.5

/** Of a beat in its bar: the first, the middle one of an even bar, or another. */
function strength(arrangement: Arrangement, from: number): number {
  const { quarters } = barPlace(arrangement, from)
  return quarters < 1e-6 ? 1 : isHalfBarAway(arrangement, quarters, from) ? 0.75 : 0
}

function isHalfBarAway(arrangement: Arrangement, away: number, from: number): boolean {
  const { meter } = arrangement.bars[Math.max(0, barBy.right(arrangement.bars, from) - 1)]!
  return meter.beats % 2 === 0 && Math.abs(Math.abs(away) - 2 * meter.beats / meter.beatType) < 1e-6
}

function barPlace(arrangement: Arrangement, from: number): { quarters: number, beats: number } {
  const bar = arrangement.bars[Math.max(0, barBy.right(arrangement.bars, from) - 1)]!
  const quarters = toDecimal(bar.offset) + from - toDecimal(bar.start)
  return { quarters, beats: quarters / feltBeatQuarters(bar.meter) }
}
const barBy = bisector((bar: Arrangement['bars'][number], at: number) => toDecimal(bar.start) - at - 1e-9)

function lineEvidence(line: readonly Sounding[], long: (step: number) => number, from: number, slurEnds: ReadonlySet<string>, words: Words): { evidence: Partial<Record<Kind, number>>, last?: number } {
  const index = lineBy.left(line, from - 1e-9)
  const [last, next] = [line[index - 1], line[index]]
  if (!last || !next) return { evidence: {} }
  if (last.to > from + 1e-6) return { evidence: { held: 1 } }
  const articulations = last.note.articulations ?? []
  return {
    last: last.from,
    evidence: {
      long: long(next.from - last.from), rest: share(next.from - last.to),
      ...(slurEnds.has(last.note.id) && { slur: 1 }),
      ...(articulations.some(mark => BREATHS.has(mark)) && { breath: 1 }),
      ...words(last.from, next.from),
    },
  }
}
const BREATHS = new Set(['fermata', 'breath-mark', 'caesura'])
const lineBy = bisector((note: Sounding) => note.from)

interface Step { from: number, length: number }
/** From each onset to the next. */
const stepsOf = (onsets: readonly number[]): Step[] => onsets.slice(1).map((to, index) => ({ from: onsets[index]!, length: to - onsets[index]! }))

/**
 * How much a step's length says that something ends, from 0 to 1: 1 for four times the usual one, less where such steps come more often
 * than phrases could end.
 */
function longness(steps: readonly Step[], barsInto: (quarter: number) => number): (length: number) => number {
  const lengths = steps.map(step => step.length).sort((a, b) => a - b)
  const usual = median(lengths) ?? 1
  const bars = new Set(steps.map(step => Math.floor(barsInto(step.from)))).size
  return (length) => {
    const often = (lengths.length - bisectLeft(lengths, length - 1e-6)) / Math.max(1, bars)
    return share(Math.log2(Math.max(length, 1e-6) / usual) / 2) * share(1 - OFTEN * Math.log2(Math.max(1, often / PHRASE_ENDS)))
  }
}
/** Phrases end in at most so many bars of one; and what twice as often comes loses so much of its weight. Own choice. */
const PHRASE_ENDS = 0.5
const OFTEN = 0.7

const soundingOf = (notes: readonly Omit<Note, 'hand'>[]): Sounding[] =>
  notes.filter(note => !note.grace).map(note => ({ from: toDecimal(note.onset), to: toDecimal(add(note.onset, note.duration)), pitch: note.pitch, note }))

/** The highest notes, one at a time; of all hands where the right one rests throughout. */
function melodyOf(right: readonly Sounding[], all: readonly Sounding[]): Sounding[] {
  const melody: Sounding[] = []
  for (const note of right.length > 0 ? right : all) {
    const last = melody.at(-1)
    if (last && last.from === note.from) {
      if (note.pitch > last.pitch) melody[melody.length - 1] = note
    }
    // A note that moves below a longer one still sounding is an inner voice.
    else if (!last || last.to <= note.from + 1e-9 || note.pitch > last.pitch) melody.push(note)
  }
  return melody
}

/** The voices that have words. */
function sungLines(arrangement: Arrangement): Sounding[][] {
  const sung = new Set(arrangement.lyrics.map(lyric => lyric.noteId))
  return arrangement.others.filter(role => !role.percussion && !role.silent && role.notes.some(note => sung.has(note.id))).map(role => melodyOf(soundingOf(role.notes), []))
}

/** What strikes and sounds in both hands: before a moment, how long ago anything was struck, whether something sounds on over it, and whether the bass rose a fourth to get there. */
function textureOf(notes: readonly Sounding[]) {
  const onsets = [...new Set(notes.map(note => note.from))].sort((a, b) => a - b)
  // The lowest note that sounds from each onset on, and how far anything struck so far lasts.
  let sounding: Sounding[] = []
  let next = 0
  let reach = 0
  const at = onsets.map((onset) => {
    const reachBefore = reach
    while (next < notes.length && notes[next]!.from <= onset + 1e-9) {
      reach = Math.max(reach, notes[next]!.to)
      sounding.push(notes[next++]!)
    }
    sounding = sounding.filter(note => note.to > onset + 1e-9)
    return { onset, reachBefore, reach, bass: sounding.reduce((lowest, note) => Math.min(lowest, note.pitch), 127) }
  })
  return {
    onsets,
    before(from: number) {
      const index = onsetBy.left(onsets, from - 1e-9) - 1
      if (index < 0) return undefined
      const last = at[index]!
      const rise = index > 0 ? last.bass - at[index - 1]!.bass : 0
      return { step: from - last.onset, isHeldOver: last.reach > from + 1e-6, bassRises: rise === 5 || rise === -7 }
    },
  }
}
const onsetBy = bisector((onset: number) => onset)

type Words = (last: number, next: number) => Partial<Record<Kind, number>>

/** What the words say between a note and the next. */
function wordsOf({ lyrics }: Arrangement): Words {
  const verse = lyrics[0]?.verse
  const texts = new Map(lyrics.filter(lyric => lyric.verse === verse).map(lyric => [toDecimal(lyric.onset), lyric.text]))
  return (last, next) => {
    const [before, after] = [texts.get(last) ?? '', texts.get(next) ?? '']
    return {
      ...(/[.!?:;…]["”’»)]*$/.test(before) ? { sentence: 1 } : /,["”’»)]*$/.test(before) ? { comma: 1 } : {}),
      ...(/^["“‘«(]*\p{Lu}/u.test(after) && !/^I\b/.test(after) ? { capital: 1 } : {}),
    }
  }
}

/** The score's signs that a section begins, by the moment. */
function signsOf(arrangement: Arrangement): Map<number, number> {
  const signs = new Map<number, number>()
  const say = (at: number, much: number) => signs.set(at, Math.max(signs.get(at) ?? 0, much))
  const { bars } = arrangement
  for (const { onset, name } of arrangement.rehearsals) {
    // Bar numbers are printed as marks, too.
    if (Number(name) !== barAt(arrangement, onset).number) say(toDecimal(onset), SIGNS.rehearsal)
  }
  bars.forEach((bar, index) => {
    const [from, next] = [toDecimal(bar.start), bars[index + 1]]
    const to = toDecimal(add(bar.start, bar.length))
    if (bar.repeatStart) say(from, SIGNS.repeat)
    // What is played instead the second time belongs to the same section.
    const isInEndings = isEnding(bars, index) && isEnding(bars, index + 1)
    if (bar.repeatEnd && !isInEndings) say(to, SIGNS.repeat)
    if (bar.sectionEnd && !isInEndings) say(to, SIGNS.double)
    if (isEnding(bars, index) && !isInEndings) say(to, SIGNS.repeat)
    if (bar.segno || bar.coda) say(from, SIGNS.jump)
    if (bar.jump || bar.fine) say(to, SIGNS.jump)
    if (!next) return
    if (next.fifths !== bar.fifths) say(to, SIGNS.key)
    if (next.meter.beats !== bar.meter.beats || next.meter.beatType !== bar.meter.beatType) say(to, SIGNS.meter)
  })
  for (const { onset } of arrangement.tempos.slice(1)) {
    const bar = barAt(arrangement, onset)
    if (toDecimal(subtract(onset, bar.start)) === 0) say(toDecimal(onset), SIGNS.tempo)
  }
  return signs
}

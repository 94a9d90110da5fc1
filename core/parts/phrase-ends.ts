import { bisectRight, bisector } from 'd3-array'
import { arrangementEnd, type Arrangement } from '../music/arrangement'
import { barPlaces, barsBetween, type BarPlace } from '../music/bar-count'
import { toDecimal, type Quarters } from '../music/quarters'
import { endingsOf, signsOf, SURE } from './score-signs'
import { longness, share, songLines, soundingOf, stepsOf, textureOf, type Sounding } from './song-lines'

/**
 * A place at which a phrase may end and the next begin: how much speaks for it, and whether the score itself says so.
 */
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

/**
 * The weight of each kind of evidence at full strength; own choice, tuned on hymns, songs and invented melodies
 * (docs/learning-songs.md).
 */
const EVIDENCE = {
  /**
   * The melody's last note lasts four times as long as is usual here; all hands stop as long; the melody rests for a
   * quarter note or more.
   */
  long: 2.4,
  still: 4,
  rest: 1.2,
  /** Nothing sounds across; the bass rises a fourth (or falls a fifth) into the last chord. */
  together: 1.2,
  cadence: 1.6,
  /** The place in the bar at which the song begins; no beat. */
  place: 1,
  offBeat: -1.5,
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
  slur: 0.6,
  breath: 3,
  /** Words: a sentence ends, a comma, a capital letter begins. */
  sentence: 1.2,
  comma: 0.7,
  capital: 0.6,
}

/** Evidence beyond this adds little. In the middle of a bar, less than `CLEAR` counts for nothing (own choice). */
const ENOUGH = 5
const CLEAR = 2.6
/** Evidence that the music stops. */
const STOPS = ['long', 'still', 'rest', 'breath', 'slur', 'sentence', 'comma'] as const

type Kind = keyof typeof EVIDENCE
/** The strength of each kind of evidence at a place, 0 to 1. */
type Evidence = Partial<Record<Kind, number>>
/** A place with its evidence, not yet weighed. */
type Place = Omit<PhraseEnd, 'evidence'> & { evidence: Evidence }

/** All places at which a part might begin, with what speaks for each, in order; the beginning is not one. */
export function phraseEnds(arrangement: Arrangement): PhraseEnd[] {
  return placesOf(arrangement).flatMap(place => {
    const evidence = compressed(total(place.evidence))
    // In the middle of a bar something begins only where the music has stopped, clearly.
    const isClear =
      place.isLine || place.sign > 0 || (evidence >= CLEAR && STOPS.some(kind => (place.evidence[kind] ?? 0) > 0))
    return isClear ? [{ ...place, evidence }] : []
  })
}

function total(evidence: Evidence): number {
  let sum = 0
  for (const kind of KINDS) sum += EVIDENCE[kind] * (evidence[kind] ?? 0)
  return sum
}
const KINDS = Object.keys(EVIDENCE) as Kind[]

const compressed = (evidence: number): number => (evidence <= 0 ? evidence : ENOUGH * Math.tanh(evidence / ENOUGH))

/** All places, with the evidence for each: bar lines, the notes of the lines that a listener follows, and marks. */
function placesOf(arrangement: Arrangement): Place[] {
  const barsAt = barsBetween(arrangement)
  const inBarAt = barPlaces(arrangement)
  const lines = songLines(arrangement).map(line => ({
    line,
    long: longness(stepsOf(line.map(note => note.from)), barsAt),
  }))
  const texture = textureOf(soundingOf(arrangement.notes))
  const still = longness(stepsOf(texture.onsets), barsAt)
  const beginning = inBarAt(Math.min(...lines.map(({ line }) => line[0]!.from), Number.MAX_VALUE)).quarters
  const [signs, endings, words] = [signsOf(arrangement), endingsOf(arrangement), wordsOf(arrangement)]
  const slurEnds = new Set((arrangement.slurs ?? []).map(slur => slur.to))
  const end = toDecimal(arrangementEnd(arrangement))
  const sectionAt = sectionsBySigns(signs, end, barsAt)
  const moments = new Map<number, Quarters>()
  for (const bar of arrangement.bars) moments.set(toDecimal(bar.start), bar.start)
  for (const { line } of lines) for (const { from, note } of line) moments.set(from, note.onset)
  for (const { onset } of arrangement.rehearsals) moments.set(toDecimal(onset), onset)
  return [...moments]
    .filter(([from]) => from > 1e-9 && from < end - 1e-9)
    .sort((a, b) => a[0] - b[0])
    .map(([from, at]): Place => {
      const heard = lines.map(({ line, long }) => lineEvidence(line, long, from, slurEnds, words))
      const { evidence, last } = heard.reduce(
        (best, one) => (total(one.evidence) > total(best.evidence) ? one : best),
        heard[0] ?? { evidence: {} },
      )
      const inBar = inBarAt(from)
      const isAtBeginning = Math.abs(inBar.quarters - beginning) < 1e-6
      const isLine = isAtBeginning || inBar.quarters < 1e-6
      const { isSquare, since } = sectionAt(from)
      const grid = isLine ? onGrid(since) : 0
      const before = texture.before(from)
      return {
        at,
        bars: barsAt(from),
        ...(isSquare ? { sinceSection: since } : {}),
        isLine,
        sign: signs.get(from) ?? 0,
        evidence: {
          ...evidence,
          ...(before && {
            still: still(before.step),
            together: before.isHeldOver ? 0 : 1,
            cadence: before.bassRises ? 1 : 0,
          }),
          place: isAtBeginning ? 1 : inBar.isHalfBarFrom(beginning) || isLine ? 0.5 : 0,
          offBeat: Math.abs(inBar.beats - Math.round(inBar.beats)) < 1e-6 ? 0 : 1,
          grid,
          square: isSquare ? grid : 0,
          ending: endings.has(from) ? 1 : 0,
          strong: last === undefined ? 0 : strength(inBarAt(last)),
        },
      }
    })
}

/**
 * For a time (quarter notes) the bars since its section began, by the signs, and whether phrases of four bars fit into
 * that section.
 */
function sectionsBySigns(
  signs: ReadonlyMap<number, number>,
  end: number,
  barsAt: (quarter: number) => number,
): (from: number) => { since: number; isSquare: boolean } {
  const starts = [
    0,
    ...[...signs]
      .filter(([from, sign]) => sign >= SURE && from < end - 1e-6)
      .map(([from]) => from)
      .sort((a, b) => a - b),
  ].map(barsAt)
  return from => {
    const section = Math.max(0, bisectRight(starts, barsAt(from) - 0.5) - 1)
    return {
      since: barsAt(from) - starts[section]!,
      isSquare: starts.length > 1 && isSquareLength((starts[section + 1] ?? barsAt(end)) - starts[section]!),
    }
  }
}

/** Whether phrases of four, or two, bars fit into so many bars; a pickup may be missing, or too much. */
function onGrid(bars: number): number {
  const isMultiple = (phrase: number) => Math.abs(bars - phrase * Math.round(bars / phrase)) < 0.5
  return isMultiple(4) ? 1 : isMultiple(2) ? 0.5 : 0
}

/** Eight bars or a multiple of four beyond; a pickup may be missing, or too much. */
const isSquareLength = (bars: number): boolean => bars > 7.5 && Math.abs(bars - 4 * Math.round(bars / 4)) < 0.5

/** Of a beat in its bar: the first, the middle one of an even bar, or another. */
const strength = (place: BarPlace): number => (place.quarters < 1e-6 ? 1 : place.isHalfBarFrom(0) ? 0.75 : 0)

/** The evidence of one line at a time, and when its last note before it is struck. */
function lineEvidence(
  line: readonly Sounding[],
  long: (step: number) => number,
  from: number,
  slurEnds: ReadonlySet<string>,
  words: Words,
): { evidence: Evidence; last?: number } {
  const index = lineBy.left(line, from - 1e-9)
  const [last, next] = [line[index - 1], line[index]]
  if (!last || !next) return { evidence: {} }
  if (last.to > from + 1e-6) return { evidence: { held: 1 } }
  const articulations = last.note.articulations ?? []
  return {
    last: last.from,
    evidence: {
      long: long(next.from - last.from),
      rest: share(next.from - last.to),
      ...(slurEnds.has(last.note.id) && { slur: 1 }),
      ...(articulations.some(mark => BREATHS.has(mark)) && { breath: 1 }),
      ...words(last.from, next.from),
    },
  }
}
const BREATHS = new Set(['fermata', 'breath-mark', 'caesura'])
const lineBy = bisector((note: Sounding) => note.from)

type Words = (last: number, next: number) => Evidence

/** What the words say between a note and the next. */
function wordsOf({ lyrics }: Arrangement): Words {
  const verse = lyrics[0]?.verse
  const texts = new Map(
    lyrics.filter(lyric => lyric.verse === verse).map(lyric => [toDecimal(lyric.onset), lyric.text]),
  )
  return (last, next) => {
    const [before, after] = [texts.get(last) ?? '', texts.get(next) ?? '']
    return {
      ...(/[.!?:;…]["”’»)]*$/.test(before) ? { sentence: 1 } : /,["”’»)]*$/.test(before) ? { comma: 1 } : {}),
      ...(/^["“‘«(]*\p{Lu}/u.test(after) && !/^I\b/.test(after) ? { capital: 1 } : {}),
    }
  }
}

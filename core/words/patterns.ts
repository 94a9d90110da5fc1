import type { FingerEvenness } from '../ear/by-finger'
import type { HandDifficulty, PieceDifficulty } from '../hands/difficulty'
import type { Hand } from '../music/arrangement'
import type { Level } from '../patterns/editions'
import type { DrillKey } from '../patterns/drills/keys'
import type { DrillRecipe, DrillRhythm, LineHands, Material, ScaleName } from '../patterns/drills/recipe'
import { numberWord, plural, stepsText } from './amounts'
import { displayName, type NoteNames } from './note-names'

/** What a pattern is called and what it does; a player's own has its name alone. */
export interface PatternWords {
  readonly title: string
  readonly about: string
}

const PATTERNS: Readonly<Record<string, PatternWords>> = {
  'held-root': { title: 'Held root', about: 'The root of each chord, held through the bar.' },
  'root-beats': { title: 'Root on each beat', about: 'The root again on every beat.' },
  'root-fifth': { title: 'Root and fifth', about: 'The root, then the fifth above it.' },
  octaves: { title: 'Octaves', about: 'The root with its octave, struck together.' },
  'octaves-alternating': { title: 'Octaves, one by one', about: 'The root, then its octave, in turn.' },
  shell: { title: 'Shell', about: 'The root with the seventh, or with the third where there is no seventh.' },
  'block-held': { title: 'Held chord', about: 'The whole chord, held through the bar.' },
  'block-beats': { title: 'Chord on each beat', about: 'The whole chord again on every beat.' },
  'block-eighths': { title: 'Chord in eighths', about: 'The whole chord as a steady pulse, twice to the beat.' },
  'long-short': { title: 'Long–short', about: 'The chord, long then short.' },
  waltz: { title: 'Waltz', about: 'The bass on one, the rest of the chord on two and three.' },
  'bass-then-upper': {
    title: 'Bass, then the upper notes',
    about: 'The lowest note of the chord, then the others together.',
  },
  broken: { title: 'Broken chord', about: 'Low, high, middle, high, one note after the other.' },
  alberti: { title: 'Alberti bass', about: 'The broken chord twice as fast, in sixteenths.' },
  'arpeggio-one': { title: 'Arpeggio, one octave', about: 'Up the chord to the octave.' },
  'arpeggio-two': { title: 'Arpeggio, two octaves', about: 'Up the chord through two octaves; the hand travels.' },
  'arpeggio-up-and-back': { title: 'Arpeggio, up and back', about: 'Up the chord and down again.' },
  tenth: { title: 'Spread tenth', about: 'Root, fifth, and the third an octave up, one after the other.' },
  walking: { title: 'Walking bass', about: 'A step on every beat, on the way to the next root.' },
  'driving-eighths': { title: 'Driving eighths', about: 'The root in steady eighths.' },
  boogie: {
    title: 'Boogie',
    about: 'Root, third, fifth, sixth and back; the finger slides into the third from the half step below.',
  },
  shuffle: { title: 'Shuffle', about: 'Root with the fifth, then with the sixth, in triplets.' },
  'bossa-chord': { title: 'Bossa, chord', about: 'The chord on the five strokes of the clave.' },
  'bossa-octave': { title: 'Bossa, octave', about: 'Root and octave in turn on the five strokes of the clave.' },
  'call-and-answer': { title: 'Call and answer', about: 'Plays where the other hand rests.' },
  call: { title: 'Call', about: 'Two chords, and room for an answer.' },
}

/** What a pattern is called. */
export const patternTitle = (name: string): string => PATTERNS[name]?.title ?? name
/** What a pattern does; '' for a player's own. */
export const patternAbout = (name: string): string => PATTERNS[name]?.about ?? ''

/** The four levels of an edition, and what each has. */
export const LEVEL_WORDS: Readonly<Record<Level, PatternWords>> = {
  1: { title: 'Tune and roots', about: 'The tune in the right hand, the root of each chord in the left.' },
  2: { title: 'Tune and pattern', about: 'The tune in the right hand, a left-hand pattern over the song’s chords.' },
  3: { title: 'Thinned', about: 'The tune with its bass and a few inner notes, as the song has them.' },
  4: {
    title: 'All that two hands can hold',
    about: 'Everything in the song that your hands can reach and play in time.',
  },
}

/** "difficulty 3.4 of 10" */
export const difficultyText = ({ level }: Pick<HandDifficulty | PieceDifficulty, 'level'>): string =>
  `difficulty ${level.toFixed(1)} of 10`

/** What makes a hand hard, in a few words; '' where nothing does. */
export function difficultyReasons({ span, leap, strokesPerSecond, movesPerMinute }: HandDifficulty): string {
  const said = [
    strokesPerSecond >= 4 ? `up to ${Math.round(strokesPerSecond)} strokes a second` : '',
    leap >= 5 ? `leaps of ${stepsText(leap)} beyond the octave` : '',
    movesPerMinute >= 20 ? `${Math.round(movesPerMinute)} changes of position a minute` : '',
    span >= 12 ? `chords ${stepsText(span)} wide` : '',
  ].filter(one => one !== '')
  return said.slice(0, 2).join(', ')
}

/** "12 of the song’s 340 notes are left out", or that none is. */
export const leftOutText = ({ notes, of }: { notes: number; of: number }): string =>
  notes === 0
    ? 'Nothing is left out.'
    : `${notes} of the song’s ${plural(of, 'note')} ${notes === 1 ? 'is' : 'are'} left out.`

/** A key as it is called: "E♭ major". */
export const keyTitle = (
  { tonic, isMinor }: Pick<DrillKey, 'tonic' | 'isMinor'>,
  names: NoteNames = 'letters',
): string => `${displayName(tonic, false, names)} ${isMinor ? 'minor' : 'major'}`

/** What a part of a drill is called: its key, and whether it is in double time. */
export const drillPartName = (
  { isDouble, ...key }: Pick<DrillKey, 'tonic' | 'isMinor'> & { isDouble?: boolean },
  names: NoteNames = 'letters',
): string => `${keyTitle(key, names)}${isDouble ? ', double time' : ''}`

const SCALES: Readonly<Record<ScaleName, string>> = {
  major: 'Major scale',
  'natural minor': 'Natural minor scale',
  'harmonic minor': 'Harmonic minor scale',
  'melodic minor': 'Melodic minor scale',
  chromatic: 'Chromatic scale',
}
const KINDS: Readonly<Record<string, string>> = {
  '': 'major',
  m: 'minor',
  '7': 'dominant seventh',
  maj7: 'major seventh',
  m7: 'minor seventh',
  dim: 'diminished',
  dim7: 'diminished seventh',
  m7b5: 'half-diminished',
  aug: 'augmented',
}
const chordKind = (chord: string): string => KINDS[chord] ?? chord

/** What is practised, as a title begins. */
function materialText(material: Material): string {
  switch (material.kind) {
    case 'scale':
      return `${SCALES[material.scale]}${material.in === 'thirds' ? ' in thirds' : material.in === 'sixths' ? ' in sixths' : material.in === 'broken-thirds' ? ' in broken thirds' : ''}, ${octavesText(material.octaves)}`
    case 'five-finger':
      return `Five fingers, ${material.mode}`
    case 'arpeggio':
      return `Arpeggio, ${chordKind(material.chord)}, ${octavesText(material.octaves)}`
    case 'inversions':
      return `Inversions, ${chordKind(material.chord)}${material.isBroken ? ', broken' : ''}`
    case 'sevenths':
      return `Sevenths on the scale${material.isBroken ? ', broken' : ''}`
    case 'against':
      return `${capital(numberWord(material.right))} against ${numberWord(material.left)}`
    case 'progression':
      return material.degrees.join('–')
    case 'chart':
    case 'chords':
      return 'Chart'
    case 'passage':
      return 'Passage'
  }
}

const octavesText = (octaves: number): string => (octaves === 1 ? 'one octave' : `${numberWord(octaves)} octaves`)
const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

/** How the hands share a line. */
export const LINE_HANDS_WORDS: Readonly<Record<LineHands, string>> = {
  right: 'right hand',
  left: 'left hand',
  parallel: 'hands together',
  contrary: 'contrary motion',
  inward: 'from the outside in',
  staggered: 'one after the other',
}

/** What is made of a run of notes. */
export const RHYTHM_WORDS: Readonly<Record<DrillRhythm, string>> = {
  'as-it-is': 'as it is',
  'long-short': 'long–short',
  'short-long': 'short–long',
  'groups-2': 'in groups of two',
  'groups-3': 'in groups of three',
  'groups-4': 'in groups of four',
  'accents-3': 'accent on every third note',
  'accents-4': 'accent on every fourth note',
  blocks: 'as blocks',
}

/** The keys that a drill goes through, as its title ends. */
export function keysText({ keys }: Pick<DrillRecipe, 'keys'>, names: NoteNames = 'letters'): string {
  switch (keys.order) {
    case 'one':
      return `in ${displayName(keys.from ?? 'C', false, names)}`
    case 'fifths':
      return 'all keys by fifths'
    case 'chromatic':
      return 'all keys by half steps'
    case 'random':
      return 'all keys, shuffled'
    case 'list':
      return (keys.list?.length ?? 0) > 4
        ? `${numberWord(keys.list!.length)} keys`
        : `in ${(keys.list ?? []).map(tonic => displayName(tonic, false, names)).join(', ')}`
  }
}

/** A drill's title from its recipe: "Major scale, two octaves, hands together, all keys by fifths". */
export const drillTitle = (recipe: Omit<DrillRecipe, 'title'>, names: NoteNames = 'letters'): string =>
  `${drillFigureText(recipe)}, ${keysText(recipe, names)}`

/** What is played in each key: "Major scale, two octaves, hands together". */
export function drillFigureText(recipe: Omit<DrillRecipe, 'title'>): string {
  const { material, hands, rhythm, patterns, doubleTime } = recipe
  const isChords = material.kind === 'progression' || material.kind === 'chart' || material.kind === 'chords'
  const played =
    isChords && patterns
      ? (['left', 'right'] as const)
          .flatMap(hand =>
            patterns[hand] === undefined ? [] : [`${hand} ${patternName(patterns[hand]).toLowerCase()}`],
          )
          .join(', ')
      : material.kind === 'against' || isChords
        ? ''
        : LINE_HANDS_WORDS[hands ?? (material.kind === 'passage' ? 'parallel' : 'right')]
  return [
    materialText(material),
    played,
    rhythm && rhythm !== 'as-it-is' ? RHYTHM_WORDS[rhythm] : '',
    doubleTime ? 'then in double time' : '',
  ]
    .filter(one => one !== '')
    .join(', ')
}

const patternName = (pattern: NonNullable<DrillRecipe['patterns']>[Hand]): string =>
  typeof pattern === 'string' ? patternTitle(pattern) : (pattern?.name ?? '')

/** What the ready drills are for. */
const DRILLS: Readonly<Record<string, string>> = {
  'five-fingers': 'Five notes under five fingers: even, in every key.',
  'five-fingers-contrary': 'The same fingers of both hands at once, away from each other.',
  'scale-one': 'The thumb passes under once: without a bump.',
  'scale-one-left': 'The left hand’s crossings come elsewhere.',
  'scale-two': 'Two octaves, both hands: their thumbs do not pass together.',
  'scale-contrary': 'Both hands with the same fingers, from the middle outward.',
  'scale-inward': 'From the outside in and back.',
  'scale-minor': 'The step and a half is wider than it looks.',
  'scale-four': 'Four octaves in sixteenths: the arm goes along.',
  'scale-dotted': 'In dotted rhythm, to find the notes that lag.',
  'scale-thirds': 'Two notes at once, both in time.',
  'broken-thirds': 'Two steps forward, one back.',
  chromatic: 'Every key: third finger on black, thumb on white.',
  inversions: 'One chord, three positions: see and feel each.',
  'inversions-broken': 'The positions of a chord as triplets.',
  'arpeggio-two': 'A wide hand and a quiet elbow.',
  'arpeggio-seventh': 'Four notes to the octave, both hands.',
  'sevenths-on-the-scale': 'The seven seventh chords of a key.',
  'sevenths-by-fifths': 'Four seventh chords, falling by fifths to the tonic.',
  'two-five-one': 'The commonest way home, with shells in the left hand.',
  'four-chords-broken': 'Four chords that many songs are made of, broken in the left hand.',
  'arpeggio-under-chords': 'Block chords in the right hand, an arpeggio in the left.',
  'arpeggio-over-chords': 'The other way round.',
  'pulse-over-clave': 'A steady pulse over the clave.',
  'clave-over-pulse': 'The clave over a steady pulse.',
  'held-bass': 'One hand holds, the other repeats.',
  'call-and-answer': 'One hand rests while the other plays.',
  'one-to-four': 'One note against four.',
  'two-to-one': 'Two notes against one.',
  'two-against-three': 'Three in the right hand, two in the left: they meet on the beat.',
  'three-against-four': 'Four in the right hand, three in the left, over two beats.',
  staggered: 'The left hand follows a beat behind.',
}
export const drillAbout = (name: string): string => DRILLS[name] ?? ''

/**
 * How even the fingers were, by the one that was least so: "Least even: the left hand’s 4, 14 ms late of the others."
 */
export function leastEvenText({
  hand,
  finger,
  lateMs,
  spreadMs,
}: Pick<FingerEvenness, 'hand' | 'finger' | 'lateMs' | 'spreadMs'>): string {
  const late = Math.round(Math.abs(lateMs))
  return `least even: finger ${finger} of the ${hand} hand, ${late > spreadMs / 2 && late >= 5 ? `${late} ms ${lateMs > 0 ? 'behind' : 'ahead of'} the others` : `within ± ${Math.round(spreadMs)} ms`}`
}

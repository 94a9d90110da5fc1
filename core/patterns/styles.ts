import { pulses, type Meter } from '../music/meter'
import {
  fits,
  usualMeters,
  row,
  type ChordTone,
  type Drum,
  type LineTone,
  type Pattern,
  type PatternNote,
} from './pattern'

/** The styles that a rhythm section can play. */
export const STYLES = ['ballad', 'eighths', 'shuffle', 'swing', 'waltz', 'bossa', 'half-time'] as const
export type Style = (typeof STYLES)[number]

/** What the bass of a rhythm section plays: on its way to the next chord only the half step below it. */
export type BassTone = Exclude<LineTone, 'walk'>

/** What drums, bass and chords play in one bar. */
export interface SectionBar {
  readonly drums: Pattern<Drum>
  readonly bass: Pattern<BassTone>
  readonly chords: Pattern<ChordTone>
}

/** Bars that follow each other in turn. With `above` they are for faster music alone, felt beats a minute. */
export interface Cycle {
  readonly bars: readonly SectionBar[]
  readonly above?: number
}

/** How a style is played: its cycles, and its instruments (General MIDI programs from 0). */
export interface StyleBook {
  readonly cycles: readonly Cycle[]
  readonly bassProgram: number
  readonly chordsProgram: number
  readonly loudness: number
}

type Rows<Tone extends Drum | ChordTone> = Partial<Record<Tone, string>>

/** A bar of a section from rows of signs, one a drum and one a tone of the chord. */
function bar(
  beats: number,
  division: Pattern['division'],
  drums: Rows<Drum>,
  bass: Rows<BassTone>,
  chords: string,
): SectionBar {
  const notes = <Tone extends Drum | ChordTone>(rows: Rows<Tone>): PatternNote<Tone>[] =>
    (Object.entries(rows) as [Tone, string][])
      .flatMap(([tone, signs]) => row(tone, signs))
      .sort((a, b) => a.step - b.step)
  return {
    drums: { beats, division, notes: notes(drums) },
    bass: { beats, division, notes: notes(bass) },
    chords: { beats, division, notes: row<ChordTone>('chord', chords) },
  }
}

const FINGERED_BASS = 33
const ACOUSTIC_BASS = 32
const ELECTRIC_PIANO = 4
const GUITAR = 24

/** The styles, written for this project from what is common practice in each. */
export const STYLE_BOOKS: Readonly<Record<Style, StyleBook>> = {
  ballad: {
    bassProgram: FINGERED_BASS,
    chordsProgram: ELECTRIC_PIANO,
    loudness: -10,
    cycles: [
      {
        bars: [
          bar(
            4,
            4,
            { kick: 'X.....x.|x.......', stick: '....x...|....x...', closedHat: 'o.o.o.o.|o.o.o.o.' },
            { bass: 'X-----x-|........', fifth: '........|x-------' },
            'o-------|o-------',
          ),
        ],
      },
      {
        bars: [
          bar(
            3,
            4,
            { kick: 'X...|....|....', stick: '....|....|x...', closedHat: 'o.o.|o.o.|o.o.' },
            { bass: 'X---|----|....', fifth: '....|....|x---' },
            '....|o---|o---',
          ),
        ],
      },
      {
        bars: [
          bar(
            2,
            4,
            { kick: 'X...|..x.', stick: '....|x...', closedHat: 'o.o.|o.o.' },
            { bass: 'X---|....', fifth: '....|x---' },
            'o---|----',
          ),
        ],
      },
      {
        bars: [
          bar(
            4,
            3,
            { kick: 'X..|...|x.x|...', stick: '...|x..|...|x..', closedHat: 'ooo|ooo|ooo|ooo' },
            { bass: 'X--|--x|...|...', fifth: '...|...|x--|---' },
            'o--|---|o--|---',
          ),
        ],
      },
      {
        bars: [
          bar(
            2,
            3,
            { kick: 'X..|...', stick: '...|x..', closedHat: 'ooo|ooo' },
            { bass: 'X--|...', fifth: '...|x--' },
            'o--|o--',
          ),
        ],
      },
    ],
  },
  eighths: {
    bassProgram: FINGERED_BASS,
    chordsProgram: ELECTRIC_PIANO,
    loudness: 0,
    cycles: [
      {
        bars: [
          bar(
            4,
            2,
            { kick: 'X.|..|xx|..', snare: '..|X.|..|X.', closedHat: 'xo|xo|xo|xo' },
            { bass: 'Xx|xx|xx|xx' },
            'X-|-x|--|--',
          ),
        ],
      },
      {
        bars: [
          bar(3, 2, { kick: 'X.|..|.x', snare: '..|..|X.', closedHat: 'xo|xo|xo' }, { bass: 'Xx|xx|xx' }, 'X-|-x|--'),
        ],
      },
      { bars: [bar(2, 2, { kick: 'X.|.x', snare: '..|X.', closedHat: 'xo|xo' }, { bass: 'Xx|xx' }, 'X-|--')] },
      {
        bars: [
          bar(
            4,
            3,
            { kick: 'X..|..x|X..|...', snare: '...|X..|...|X..', closedHat: 'xoo|xoo|xoo|xoo' },
            { bass: 'Xxx|xxx|xxx|xxx' },
            'X--|--x|---|---',
          ),
        ],
      },
      {
        bars: [bar(2, 3, { kick: 'X..|..x', snare: '...|X..', closedHat: 'xoo|xoo' }, { bass: 'Xxx|xxx' }, 'X--|---')],
      },
    ],
  },
  shuffle: {
    bassProgram: FINGERED_BASS,
    chordsProgram: ELECTRIC_PIANO,
    loudness: 0,
    cycles: [
      {
        bars: [
          bar(
            4,
            3,
            { kick: 'X..|...|x.x|...', snare: '...|X..|...|X..', closedHat: 'x.o|x.o|x.o|x.o' },
            { bass: 'X-x|...|...|...', third: '...|x-x|...|...', fifth: '...|...|x-x|...', octave: '...|...|...|x-x' },
            '...|x-.|...|x-o',
          ),
        ],
      },
      {
        bars: [
          bar(
            3,
            3,
            { kick: 'X..|...|..x', snare: '...|x..|X..', closedHat: 'x.o|x.o|x.o' },
            { bass: 'X-x|...|...', third: '...|x-x|...', fifth: '...|...|x-x' },
            '...|x-.|x-.',
          ),
        ],
      },
      {
        bars: [
          bar(
            2,
            3,
            { kick: 'X..|..x', snare: '...|X..', closedHat: 'x.o|x.o' },
            { bass: 'X-x|...', fifth: '...|x-x' },
            '...|x-.',
          ),
        ],
      },
    ],
  },
  swing: {
    bassProgram: ACOUSTIC_BASS,
    chordsProgram: 0,
    loudness: -4,
    cycles: [
      {
        bars: [
          bar(
            4,
            3,
            { ride: 'x..|X.o|x..|X.o', pedalHat: '...|x..|...|x..', kick: 'o..|o..|o..|o..' },
            {
              bass: 'X--|...|...|...',
              third: '...|x--|...|...',
              fifth: '...|...|x--|...',
              approach: '...|...|...|x--',
            },
            'x--|..x|---|...',
          ),
          bar(
            4,
            3,
            { ride: 'x..|X.o|x..|X.o', pedalHat: '...|x..|...|x..', kick: 'o..|o..|o..|o..' },
            {
              bass: 'X--|...|...|...',
              fifth: '...|x--|...|...',
              third: '...|...|x--|...',
              approach: '...|...|...|x--',
            },
            '...|x--|..x|---',
          ),
        ],
      },
      {
        bars: [
          bar(
            3,
            3,
            { ride: 'x..|X.o|x.o', pedalHat: '...|x..|...', kick: 'x..|...|...' },
            { bass: 'X--|...|...', fifth: '...|x--|...', approach: '...|...|x--' },
            '...|..x|---',
          ),
        ],
      },
      {
        bars: [
          bar(
            2,
            3,
            { ride: 'x..|X.o', pedalHat: '...|x..', kick: 'o..|o..' },
            { bass: 'X--|...', approach: '...|x--' },
            'x--|..x',
          ),
        ],
      },
    ],
  },
  waltz: {
    bassProgram: ACOUSTIC_BASS,
    chordsProgram: 0,
    loudness: -6,
    cycles: [
      {
        bars: [
          bar(3, 2, { kick: 'X.|..|..', snare: '..|o.|o.', closedHat: 'o.|x.|x.' }, { bass: 'X-|--|..' }, '..|x-|x-'),
          bar(3, 2, { kick: 'X.|..|..', snare: '..|o.|oo', closedHat: 'o.|x.|x.' }, { fifth: 'x-|--|..' }, '..|x-|x-'),
        ],
      },
      {
        bars: [bar(2, 3, { kick: 'X..|x..', closedHat: '.oo|.oo' }, { bass: 'X--|...', fifth: '...|x--' }, '.xx|.xx')],
      },
    ],
  },
  bossa: {
    bassProgram: ACOUSTIC_BASS,
    chordsProgram: GUITAR,
    loudness: -8,
    cycles: [
      // The bar of the clave in sixteenths: 1, "a" of 1, "&" of 2, "&" of 3, "e" of 4 (common practice).
      {
        bars: [
          bar(
            4,
            4,
            { kick: 'X..xx..x|X..xx..x', stick: 'x..x..x.|..x..x..', shaker: 'oooooooo|oooooooo' },
            { bass: 'X--.....|...x----', fifth: '...x----|x--.....' },
            'x--.x-..|..x-..x-',
          ),
        ],
      },
      // The same over two bars of eighths, where sixteenths would be too fast.
      {
        above: 100,
        bars: [
          bar(
            4,
            2,
            { kick: 'X.|.x|x.|.x', stick: 'x.|.x|..|x.', shaker: 'oo|oo|oo|oo' },
            { bass: 'X-|-.|..|..', fifth: '..|.x|--|--' },
            'x-|-.|x-|..',
          ),
          bar(
            4,
            2,
            { kick: 'X.|.x|x.|.x', stick: '..|x.|.x|..', shaker: 'oo|oo|oo|oo' },
            { fifth: 'x-|-.|..|..', bass: '..|.x|--|--' },
            '..|x-|..|x-',
          ),
        ],
      },
      {
        bars: [
          bar(
            2,
            4,
            { kick: 'X..x|x..x', stick: 'x..x|..x.', shaker: 'oooo|oooo' },
            { bass: 'X--.|....', fifth: '...x|x---' },
            'x--.|x-..',
          ),
        ],
      },
      {
        bars: [
          bar(
            3,
            4,
            { kick: 'X..x|....|x...', stick: 'x..x|..x.|..x.', shaker: 'oooo|oooo|oooo' },
            { bass: 'X---|....|....', fifth: '....|..x-|----' },
            'x--.|..x-|..x-',
          ),
        ],
      },
    ],
  },
  'half-time': {
    bassProgram: FINGERED_BASS,
    chordsProgram: ELECTRIC_PIANO,
    loudness: -2,
    cycles: [
      {
        bars: [
          bar(
            4,
            4,
            { kick: 'X.....x.|........', snare: '........|X.......', closedHat: 'x.o.x.o.|x.o.x.oo' },
            { bass: 'X-----x-|x-------' },
            'x-------|--------',
          ),
        ],
      },
      {
        bars: [
          bar(3, 2, { kick: 'X.|..|.x', closedHat: 'xo|xo|xo' }, { bass: 'X-|--|-x' }, 'x-|--|--'),
          bar(
            3,
            2,
            { snare: 'X.|..|..', kick: '..|.x|..', closedHat: 'xo|xo|xo' },
            { bass: 'x-|--|..', fifth: '..|..|x-' },
            'x-|--|--',
          ),
        ],
      },
      {
        bars: [
          bar(2, 4, { kick: 'X...|..x.', closedHat: 'x.o.|x.o.' }, { bass: 'X---|--x-' }, 'x---|----'),
          bar(2, 4, { snare: 'X...|....', closedHat: 'x.o.|x.oo' }, { bass: 'x---|----' }, 'x---|----'),
        ],
      },
      {
        bars: [
          bar(
            4,
            3,
            { kick: 'X..|..x|...|...', snare: '...|...|X..|...', closedHat: 'xoo|xoo|xoo|xoo' },
            { bass: 'X--|--x|x--|---' },
            'x--|---|---|---',
          ),
        ],
      },
      {
        bars: [
          bar(2, 3, { kick: 'X..|..x', closedHat: 'xoo|xoo' }, { bass: 'X--|--x' }, 'x--|---'),
          bar(2, 3, { snare: 'X..|...', closedHat: 'xoo|xoo' }, { bass: 'x--|---' }, 'x--|---'),
        ],
      },
    ],
  },
}

/**
 * The cycle of a style for a meter at a tempo, felt beats a minute; in meters it has none for, bass on the first beat
 * and chords on the others (common practice).
 */
export function cycleFor(style: Style, meter: Meter, beatsPerMinute: number): readonly SectionBar[] {
  const fitting = STYLE_BOOKS[style].cycles.filter(({ bars }) => bars.every(({ drums }) => fits(drums, meter)))
  const fast = fitting.find(({ above }) => above !== undefined && beatsPerMinute > above)
  return (fast ?? fitting.find(({ above }) => above === undefined))?.bars ?? [plainBar(pulses(meter).length)]
}

const plainBar = (beats: number): SectionBar =>
  bar(
    beats,
    1,
    {
      kick: `X${'.'.repeat(beats - 1)}`,
      closedHat: 'x'.repeat(beats),
      snare: beats === 1 ? '.' : `${'.'.repeat(beats - 1)}o`,
    },
    { bass: 'X'.padEnd(beats, '-') },
    beats === 1 ? 'x' : `.${'x'.repeat(beats - 1)}`,
  )

/** Meters that a style has bars of its own for, among the usual ones. */
export const metersOf = (style: Style): string[] =>
  usualMeters(meter => STYLE_BOOKS[style].cycles.some(({ bars }) => bars.every(({ drums }) => fits(drums, meter))))

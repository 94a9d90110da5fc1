import type { Hand } from '../music/arrangement'
import type { HandCycle, HandPattern, HandRows } from './hand-pattern'

const EITHER: readonly Hand[] = ['left', 'right']

/** One bar of a number of felt beats. */
const one = (beats: number, division: HandCycle['division'], rows: HandRows): HandCycle => ({
  beats,
  division,
  bars: [rows],
})
/** One bar of a number of felt beats divided in three. */
const three = (beats: number, rows: HandRows): HandCycle => ({ beats, division: 3, bars: [rows], isCompound: true })
/** Bars in turn. */
const turns = (beats: number, division: HandCycle['division'], bars: readonly HandRows[]): HandCycle => ({
  beats,
  division,
  bars,
})

/**
 * The patterns that ship, in rising order of what is taught first, written for this project from common practice. Beats
 * are as they are felt: a cycle of two beats in thirds is a bar of 6/8.
 */
export const HAND_PATTERNS: readonly HandPattern[] = [
  {
    name: 'held-root',
    hands: EITHER,
    cycles: [one(2, 1, { bass: 'x-' }), one(3, 1, { bass: 'x--' }), one(4, 1, { bass: 'x---' })],
  },
  {
    name: 'root-beats',
    hands: EITHER,
    cycles: [one(2, 1, { bass: 'xx' }), one(3, 1, { bass: 'xxx' }), one(4, 1, { bass: 'xxxx' })],
  },
  {
    name: 'root-fifth',
    hands: EITHER,
    cycles: [
      one(2, 1, { bass: 'x.', fifth: '.x' }),
      one(3, 1, { bass: 'x-.', fifth: '..x' }),
      one(4, 1, { bass: 'x-|..', fifth: '..|x-' }),
    ],
  },
  {
    name: 'octaves',
    hands: EITHER,
    cycles: [
      one(2, 1, { bass: 'x-', octave: 'x-' }),
      one(3, 1, { bass: 'x--', octave: 'x--' }),
      one(4, 1, { bass: 'x-|x-', octave: 'x-|x-' }),
    ],
  },
  {
    name: 'octaves-alternating',
    hands: EITHER,
    cycles: [
      one(2, 1, { bass: 'x.', octave: '.x' }),
      one(3, 1, { bass: 'x..', octave: '.xx' }),
      one(4, 1, { bass: 'x.|x.', octave: '.x|.x' }),
    ],
  },
  {
    name: 'shell',
    hands: EITHER,
    cycles: [
      one(2, 1, { bass: 'x-', guide: 'x-' }),
      one(3, 1, { bass: 'x--', guide: 'x--' }),
      one(4, 1, { bass: 'x---', guide: 'x---' }),
    ],
  },
  {
    name: 'block-held',
    hands: EITHER,
    cycles: [one(2, 1, { chord: 'x-' }), one(3, 1, { chord: 'x--' }), one(4, 1, { chord: 'x---' })],
  },
  {
    name: 'block-beats',
    hands: EITHER,
    cycles: [one(2, 1, { chord: 'xx' }), one(3, 1, { chord: 'xxx' }), one(4, 1, { chord: 'xxxx' })],
  },
  {
    name: 'block-eighths',
    hands: EITHER,
    cycles: [
      one(2, 2, { chord: 'xx|xx' }),
      one(3, 2, { chord: 'xx|xx|xx' }),
      one(4, 2, { chord: 'xx|xx|xx|xx' }),
      three(2, { chord: 'xxx|xxx' }),
      three(4, { chord: 'xxx|xxx|xxx|xxx' }),
    ],
  },
  {
    name: 'long-short',
    hands: EITHER,
    cycles: [
      one(2, 2, { chord: 'x-|-x' }),
      one(3, 2, { chord: 'x-|-x|x-' }),
      one(4, 2, { chord: 'x-|-x|x-|-x' }),
      three(2, { chord: 'x-x|x-x' }),
      three(4, { chord: 'x-x|x-x|x-x|x-x' }),
    ],
  },
  {
    name: 'waltz',
    hands: EITHER,
    cycles: [
      one(3, 1, { bass: 'x..', upper: '.xx' }),
      three(2, { bass: 'x..|x..', upper: '.xx|.xx' }),
      three(4, { bass: 'x..|x..|x..|x..', upper: '.xx|.xx|.xx|.xx' }),
    ],
  },
  {
    name: 'bass-then-upper',
    hands: EITHER,
    cycles: [
      one(2, 1, { low: 'x.', upper: '.x' }),
      one(3, 1, { low: 'x..', upper: '.xx' }),
      one(4, 1, { low: 'x.|x.', upper: '.x|.x' }),
      three(2, { low: 'x-.|x-.', upper: '..x|..x' }),
      three(4, { low: 'x-.|x-.|x-.|x-.', upper: '..x|..x|..x|..x' }),
    ],
  },
  {
    // Low, high, middle, high (common practice); where the beat has three, low, middle, high.
    name: 'broken',
    hands: EITHER,
    cycles: [
      one(2, 2, { low: 'x.|..', high: '.x|.x', middle: '..|x.' }),
      one(3, 2, { low: 'x.|..|..', high: '.x|.x|.x', middle: '..|x.|x.' }),
      one(4, 2, { low: 'x.|..|x.|..', high: '.x|.x|.x|.x', middle: '..|x.|..|x.' }),
      three(2, { low: 'x..|x..', middle: '.x.|.x.', high: '..x|..x' }),
      three(4, { low: 'x..|x..|x..|x..', middle: '.x.|.x.|.x.|.x.', high: '..x|..x|..x|..x' }),
    ],
  },
  {
    name: 'alberti',
    hands: EITHER,
    cycles: [
      one(2, 4, { low: 'x...|x...', high: '.x.x|.x.x', middle: '..x.|..x.' }),
      one(3, 4, { low: 'x...|x...|x...', high: '.x.x|.x.x|.x.x', middle: '..x.|..x.|..x.' }),
      one(4, 4, { low: 'x...|x...|x...|x...', high: '.x.x|.x.x|.x.x|.x.x', middle: '..x.|..x.|..x.|..x.' }),
    ],
  },
  {
    name: 'arpeggio-one',
    hands: EITHER,
    cycles: [
      one(2, 2, { bass: 'x.|..', third: '.x|..', fifth: '..|x.', octave: '..|.x' }),
      one(3, 2, { bass: 'x.|..|..', third: '.x|..|..', fifth: '..|x.|..', octave: '..|.x|--' }),
      one(4, 2, { bass: 'x.|..|x.|..', third: '.x|..|.x|..', fifth: '..|x.|..|x.', octave: '..|.x|..|.x' }),
      three(2, { bass: 'x..|...', third: '.x.|...', fifth: '..x|...', octave: '...|x--' }),
      three(4, {
        bass: 'x..|...|x..|...',
        third: '.x.|...|.x.|...',
        fifth: '..x|...|..x|...',
        octave: '...|x--|...|x--',
      }),
    ],
  },
  {
    name: 'arpeggio-two',
    hands: EITHER,
    cycles: [
      one(4, 2, {
        bass: 'x.|..|..|..',
        third: '.x|..|..|..',
        fifth: '..|x.|..|..',
        octave: '..|.x|..|..',
        "third'": '..|..|x.|..',
        "fifth'": '..|..|.x|..',
        "octave'": '..|..|..|x-',
      }),
      one(2, 4, {
        bass: 'x...|....',
        third: '.x..|....',
        fifth: '..x.|....',
        octave: '...x|....',
        "third'": '....|x...',
        "fifth'": '....|.x..',
        "octave'": '....|..x-',
      }),
      one(3, 3, {
        bass: 'x..|...|...',
        third: '.x.|...|...',
        fifth: '..x|...|...',
        octave: '...|x..|...',
        "third'": '...|.x.|...',
        "fifth'": '...|..x|...',
        "octave'": '...|...|x--',
      }),
      three(4, {
        bass: 'x..|...|...|...',
        third: '.x.|...|...|...',
        fifth: '..x|...|...|...',
        octave: '...|x..|...|...',
        "third'": '...|.x.|...|...',
        "fifth'": '...|..x|...|...',
        "octave'": '...|...|x--|---',
      }),
      three(2, {
        bass: 'x..|...',
        fifth: '.x.|...',
        octave: '..x|...',
        "third'": '...|x..',
        "fifth'": '...|.x.',
        "octave'": '...|..x',
      }),
    ],
  },
  {
    name: 'arpeggio-up-and-back',
    hands: EITHER,
    cycles: [
      one(4, 2, {
        bass: 'x.|..|..|..',
        third: '.x|..|..|.x',
        fifth: '..|x.|..|x.',
        octave: '..|.x|.x|..',
        "third'": '..|..|x.|..',
      }),
      one(3, 2, { bass: 'x.|..|..', third: '.x|..|.x', fifth: '..|x.|x.', octave: '..|.x|..' }),
      one(2, 2, { bass: 'x.|..', third: '.x|.x', fifth: '..|x.' }),
      three(2, { bass: 'x..|...', third: '.x.|..x', fifth: '..x|.x.', octave: '...|x..' }),
      three(4, {
        bass: 'x..|...|x..|...',
        third: '.x.|..x|.x.|..x',
        fifth: '..x|.x.|..x|.x.',
        octave: '...|x..|...|x..',
      }),
    ],
  },
  {
    // Root, fifth, third an octave up (common practice).
    name: 'tenth',
    hands: EITHER,
    cycles: [
      one(2, 2, { bass: 'x.|..', fifth: '.x|..', "third'": '..|x-' }),
      one(3, 1, { bass: 'x..', fifth: '.x.', "third'": '..x' }),
      one(4, 2, { bass: 'x.|..|x.|..', fifth: '.x|..|.x|..', "third'": '..|x-|..|x-' }),
      three(2, { bass: 'x..|...', fifth: '.x.|...', "third'": '..x|---' }),
      three(4, { bass: 'x..|...|x..|...', fifth: '.x.|...|.x.|...', "third'": '..x|---|..x|---' }),
    ],
  },
  {
    name: 'walking',
    hands: EITHER,
    isOneRhythm: true,
    cycles: [
      one(2, 1, { bass: 'x.', walk: '.x' }),
      one(3, 1, { bass: 'x..', walk: '.xx' }),
      one(4, 1, { bass: 'x...', walk: '.xxx' }),
    ],
  },
  {
    name: 'driving-eighths',
    hands: EITHER,
    cycles: [
      one(2, 2, { bass: 'Xx|Xx' }),
      one(3, 2, { bass: 'Xx|Xx|Xx' }),
      one(4, 2, { bass: 'Xx|Xx|Xx|Xx' }),
      three(2, { bass: 'Xxx|Xxx' }),
      three(4, { bass: 'Xxx|Xxx|Xxx|Xxx' }),
    ],
  },
  {
    // The third comes from the half step below, by a slide of the finger.
    name: 'boogie',
    hands: EITHER,
    cycles: [
      one(2, 2, { bass: 'x.|..', third: './|..', fifth: '..|x.', sixth: '..|.x' }),
      one(4, 2, {
        bass: 'x.|..|..|..',
        third: './|..|..|./',
        fifth: '..|x.|..|x.',
        sixth: '..|.x|.x|..',
        octave: '..|..|x.|..',
      }),
      three(4, {
        bass: 'x-.|...|...|...',
        third: '../|...|...|../',
        fifth: '...|x-.|...|x-.',
        sixth: '...|..x|..x|...',
        octave: '...|...|x-.|...',
      }),
      three(2, { bass: 'x-.|...', third: '../|...', fifth: '...|x-.', sixth: '...|..x' }),
    ],
  },
  {
    name: 'shuffle',
    hands: EITHER,
    cycles: [
      one(2, 3, { bass: 'x-x|x-x', fifth: 'x-x|...', sixth: '...|x-x' }),
      one(3, 3, { bass: 'x-x|x-x|x-x', fifth: 'x-x|...|x-x', sixth: '...|x-x|...' }),
      one(4, 3, { bass: 'x-x|x-x|x-x|x-x', fifth: 'x-x|...|x-x|...', sixth: '...|x-x|...|x-x' }),
    ],
  },
  {
    // One bar of sixteenths: 1, "a" of 1, "&" of 2, "&" of 3, "e" of 4 (common practice).
    name: 'bossa-chord',
    hands: EITHER,
    isOneRhythm: true,
    cycles: [
      one(4, 4, { chord: 'x--x|--x-|--x-|-x--' }),
      turns(2, 4, [{ chord: 'x--x|--x-' }, { chord: '..x-|-x--' }]),
    ],
  },
  {
    name: 'bossa-octave',
    hands: EITHER,
    isOneRhythm: true,
    cycles: [
      one(4, 4, { bass: 'x--.|..x-|--..|.x--', octave: '...x|--..|..x-|-...' }),
      turns(2, 4, [
        { bass: 'x--.|..x-', octave: '...x|--..' },
        { octave: '..x-|-...', bass: '....|.x--' },
      ]),
    ],
  },
  {
    name: 'call-and-answer',
    hands: EITHER,
    answers: true,
    isOneRhythm: true,
    beside: 'call',
    cycles: [
      one(2, 2, { low: 'x.|..', middle: '.x|.x', high: '..|x.' }),
      one(3, 2, { low: 'x.|..|..', middle: '.x|.x|..', high: '..|x.|x-' }),
      one(4, 2, { low: 'x.|..|x.|..', middle: '.x|.x|.x|.x', high: '..|x.|..|x.' }),
      three(2, { low: 'x..|x..', middle: '.x.|.x.', high: '..x|..x' }),
      three(4, { low: 'x..|x..|x..|x..', middle: '.x.|.x.|.x.|.x.', high: '..x|..x|..x|..x' }),
    ],
  },
]

/**
 * What calls: it leaves the second half of the bar to the other hand. It stands beside an answer and is not offered by
 * itself.
 */
export const CALL: HandPattern = {
  name: 'call',
  hands: EITHER,
  isOneRhythm: true,
  cycles: [
    one(2, 2, { chord: 'xx|..' }),
    one(3, 2, { chord: 'x-|x.|..' }),
    one(4, 2, { chord: 'x-|x-|..|..' }),
    three(2, { chord: 'x-x|...' }),
    three(4, { chord: 'x-x|x--|...|...' }),
  ],
}

/** A pattern that ships, by its name. */
export const handPatternNamed = (name: string): HandPattern | undefined =>
  [...HAND_PATTERNS, CALL].find(pattern => pattern.name === name)

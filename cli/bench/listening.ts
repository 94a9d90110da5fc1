import { assessTake } from '#core/ear/assess'
import type { Assessment } from '#core/ear/assessment'
import type { FindingKind } from '#core/ear/finding'
import type { Arrangement } from '#core/music/arrangement'
import {
  barsPassage,
  expectedNotes,
  dueMarks,
  wholePassage,
  type ExpectedNote,
  type Passage,
} from '#core/music/passage'
import { CHARACTERS, MACHINE, type PlayerHabits } from '#core/players/habits'
import { simulatePlayer, type Truth } from '#core/players/simulate'
import { percentile } from './report'
import { demoSongs } from './songs'
import { BEGINNER } from './speed'
import { timeWarping } from './time-warping'

/** One take to be listened to: what is written, at what tempo, with which seed. */
export interface Situation {
  song: string
  arrangement: Arrangement
  passage: Passage
  expected: ExpectedNote[]
  bpm: number
  seed: number
}
export type Mode = 'steady' | 'free'

/** All demo songs, both hands, at the tempos, `takes` times each; only songs whose name contains `only`. */
function situations(
  takes: number,
  {
    bpms = [60, 80, 100, 120, 140, 160],
    only = '',
    bars,
  }: { bpms?: number[]; only?: string; bars?: [number, number] } = {},
): Situation[] {
  return demoSongs()
    .filter(({ song }) => song.includes(only))
    .flatMap(({ song, arrangement }) =>
      bpms.flatMap((bpm, which) =>
        Array.from({ length: takes }, (_, take) => {
          const passage = bars ? barsPassage(arrangement, ...bars, 'both') : wholePassage(arrangement, 'both')
          return {
            song,
            arrangement,
            passage,
            expected: expectedNotes(arrangement, passage, bpm),
            bpm,
            seed: 1000 * which + take,
          }
        }),
      ),
    )
}

function listen({ arrangement, passage, expected, bpm, seed }: Situation, habits: PlayerHabits, mode: Mode) {
  const { take, truth } = simulatePlayer(
    expected,
    habits,
    seed,
    dueMarks(arrangement, passage, arrangement.pedals, bpm),
  )
  return {
    take,
    truth,
    assessment: assessTake({ arrangement, passage, take, mode, bpm: mode === 'steady' ? bpm : undefined }),
  }
}

/** A place somewhere in the middle, different for each seed. */
const somewhere = ({ expected, seed }: Situation, margin = 10): ExpectedNote =>
  expected[margin + ((seed * 7919) % (expected.length - 2 * margin))]!

const OUTCOMES = ['right', 'wrong', 'missed', 'extra'] as const
export type Scores = Record<(typeof OUTCOMES)[number] | 'matching' | 'warping', number>

/**
 * Each note of many takes against the truth: F1 of the pairs, and of each outcome (a right or wrong one with its
 * stroke).
 */
export function matching(habitsFor: (situation: Situation) => PlayerHabits, mode: Mode, takes: number): Scores {
  const counts = new Map<string, { both: number; truth: number; found: number }>(
    [...OUTCOMES, 'matching', 'warping'].map(name => [name, { both: 0, truth: 0, found: 0 }]),
  )
  const count = (name: string, inTruth: boolean, found: boolean, same = true) => {
    const one = counts.get(name)!
    one.truth += inTruth ? 1 : 0
    one.found += found ? 1 : 0
    one.both += inTruth && found && same ? 1 : 0
  }
  for (const situation of situations(takes)) {
    const { take, truth, assessment } = listen(situation, habitsFor(situation), mode)
    const warped = timeWarping(
      situation.expected,
      mode === 'steady' ? take.notes : asLongAs(situation.expected, take.notes),
    )
    truth.notes.forEach((true_, index) => {
      const found = assessment.notes[index]!
      const same = found.played === true_.played
      count('matching', true_.played !== null, found.played !== null, same)
      count('warping', true_.played !== null, warped[index] !== null, warped[index] === true_.played)
      for (const outcome of ['right', 'wrong', 'missed'] as const)
        count(outcome, true_.outcome === outcome, found.outcome === outcome, same)
    })
    const extras = new Set(assessment.extras.filter(one => !one.restart).map(one => one.played))
    const trueExtras = new Set(truth.extras)
    take.notes.forEach((_, played) => count('extra', trueExtras.has(played), extras.has(played)))
  }
  return Object.fromEntries(
    [...counts].map(([name, { both, truth, found }]) => [name, truth + found === 0 ? 1 : (2 * both) / (truth + found)]),
  ) as Scores
}

/** A take stretched to the length of what is written: all that a generic alignment can know of a free tempo. */
function asLongAs(expected: readonly ExpectedNote[], notes: readonly { onsetMs: number; pitch: number }[]) {
  const [first, last] = [notes[0]?.onsetMs ?? 0, notes.at(-1)?.onsetMs ?? 1]
  const factor = (expected.at(-1)!.onsetMs - expected[0]!.onsetMs) / Math.max(1, last - first)
  return notes.map(note => ({ ...note, onsetMs: expected[0]!.onsetMs + (note.onsetMs - first) * factor }))
}

export const LEARNERS: { name: string; habits: (situation: Situation) => PlayerHabits }[] = [
  { name: 'beginner', habits: () => BEGINNER },
  {
    name: 'beginner, a restart in every take',
    habits: situation => {
      const { bar, beat } = somewhere(situation, 20)
      return {
        ...BEGINNER,
        restarts: [{ bar, beat, eventsBack: 2 + (situation.seed % 8), pauseMs: 600 + ((situation.seed * 37) % 1200) }],
      }
    },
  },
  {
    name: 'beginner, a skipped bar in every take',
    habits: ({ seed }) => ({ ...BEGINNER, skips: [{ fromBar: 3 + (seed % 18), toBar: 3 + (seed % 18) }] }),
  },
  {
    name: 'beginner, hesitations',
    habits: situation => ({
      ...BEGINNER,
      hesitations: [1, 2, 3].map(which => {
        const { bar, beat } = somewhere({ ...situation, seed: situation.seed * which + which })
        return { bar, beat, ms: 300 + ((situation.seed * which * 53) % 500) }
      }),
    }),
  },
  { name: 'careful', habits: () => CHARACTERS.careful },
  { name: 'impatient', habits: () => CHARACTERS.impatient },
  { name: 'late left hand', habits: () => ({ ...BEGINNER, leftLateMs: 75 }) },
  {
    name: 'left hand a beat late',
    habits: ({ bpm }) => ({ ...BEGINNER, wrong: 0.02, missed: 0.02, extra: 0.01, leftLateMs: 60_000 / bpm }),
  },
]

export const FINDINGS_PLANTED: {
  kind: FindingKind
  plant: (situation: Situation) => Partial<PlayerHabits>
  only?: string
  where?: (situation: Situation) => boolean
  modes?: Mode[]
}[] = [
  { kind: 'wrong-note', plant: one => ({ plantedWrong: { [somewhere(one, 0).id]: [1, -1, 2, 5][one.seed % 4]! } }) },
  { kind: 'octave', plant: one => ({ plantedWrong: { [somewhere(one, 0).id]: one.seed % 2 ? 12 : -12 } }) },
  {
    kind: 'hesitation',
    plant: one => {
      const { bar, beat } = somewhere(one)
      return { hesitations: [{ bar, beat, ms: 350 + ((one.seed * 37) % 300) }] }
    },
  },
  { kind: 'late', plant: () => ({ offsetMs: 80 }), modes: ['steady'] },
  { kind: 'early', plant: () => ({ offsetMs: -80 }), modes: ['steady'] },
  { kind: 'rushing', plant: () => ({ rushPercent: 4 }), modes: ['steady'] },
  { kind: 'dragging', plant: () => ({ rushPercent: -4 }), modes: ['steady'] },
  { kind: 'uneven', plant: () => ({ jitterMs: 55, jitterMemory: 0.1 }) },
  { kind: 'swing', plant: ({ seed }) => ({ swingRatio: seed % 2 ? 1.2 : 3.2 }), only: 'shuffle' },
  { kind: 'chord-spread', plant: () => ({ chordSpreadMs: 60 }), where: hasManyChords },
  { kind: 'hands-apart', plant: ({ seed }) => ({ leftLateMs: seed % 2 ? 75 : -70 }) },
  { kind: 'released-early', plant: ({ seed }) => ({ articulation: { right: seed % 2 ? 0.9 : 0.4, left: 0.4 } }) },
  { kind: 'blurred', plant: () => ({ articulation: { right: 1.7, left: 0.9 } }) },
  { kind: 'balance', plant: () => ({ melodySteps: -12 }) },
  { kind: 'accent', plant: () => ({ accentSteps: 0 }), only: 'shuffle' },
  { kind: 'pedal-late', plant: () => ({ pedalLateMs: 320 }), only: 'snow' },
  { kind: 'pedal-early', plant: () => ({ pedalLateMs: -250 }), only: 'snow' },
  {
    kind: 'restart',
    plant: one => {
      const { bar, beat } = somewhere(one, 30)
      return { restarts: [{ bar, beat, eventsBack: 3 + (one.seed % 6), pauseMs: 900 }] }
    },
  },
  { kind: 'skipped', plant: ({ seed }) => ({ skips: [{ fromBar: 4 + (seed % 12), toBar: 4 + (seed % 12) }] }) },
]

/** A spread can only be heard where one hand often strikes several keys at once: in a tenth of the moments. */
function hasManyChords({ expected }: Situation): boolean {
  const struck = new Map<string, number>()
  for (const { hand, onsetMs } of expected)
    struck.set(`${hand} ${Math.round(onsetMs)}`, (struck.get(`${hand} ${Math.round(onsetMs)}`) ?? 0) + 1)
  return [...struck.values()].filter(keys => keys > 1).length >= 0.1 * struck.size
}

/** The share of takes in which the planted finding is among the first two (a word that all was clean not counted). */
export function plantedFound(
  { kind, plant, only, where, modes }: (typeof FINDINGS_PLANTED)[number],
  base: PlayerHabits,
  takes: number,
): number {
  const found = (modes ?? (['steady', 'free'] as const)).flatMap(mode =>
    situations(takes, { bpms: [60, 90, 120], only })
      .filter(situation => !where || where(situation))
      .map(situation => {
        const { assessment } = listen(situation, { ...base, ...plant(situation) }, mode)
        return assessment.findings
          .filter(one => one.kind !== 'clean')
          .slice(0, 2)
          .some(one => one.kind === kind)
      }),
  )
  return found.filter(Boolean).length / found.length
}

/** A player who knows the part, without a chord out of place: who must be called clean. */
export const GOOD: PlayerHabits = { ...CHARACTERS.good, jitterMs: 14, chordSpreadMs: 10 }

/** The share of a good player's takes that are called clean: eight bars and whole songs. */
export function cleanShare(takes: number): number {
  const all = [...situations(takes, { bars: [1, 8] }), ...situations(takes)].map(
    situation => listen(situation, GOOD, 'steady').assessment.summary.clean,
  )
  return all.filter(Boolean).length / all.length
}

export interface Recovered {
  offsetMs: number
  driftPercent: number
  unsteadinessShare: number
  swingRatio: number
  hesitationMs: number
  hesitationPlaced: number
}

/**
 * How far the figures lie from what was planted, for a player with `jitterMs`: the error that 19 of 20 takes stay
 * under, and the share of hesitations at the right place.
 */
export function recovered(jitterMs: number, takes: number): Recovered {
  const player = { ...MACHINE, jitterMs }
  const errors = (
    all: readonly Situation[],
    habits: (situation: Situation) => PlayerHabits,
    error: (assessment: Assessment, situation: Situation, truth: Truth) => number,
  ) =>
    percentile(
      all.map(situation => {
        const { assessment, truth } = listen(situation, habits(situation), 'steady')
        return Math.abs(error(assessment, situation, truth))
      }),
      0.95,
    )
  const all = situations(takes, { bpms: [60, 100, 140] })
  const pause = (situation: Situation) => ({ ...somewhere(situation), ms: 250 + ((situation.seed * 37) % 400) })
  const pauses = all.map(situation => {
    const planted = pause(situation)
    const { assessment } = listen(
      situation,
      { ...player, hesitations: [{ bar: planted.bar, beat: planted.beat, ms: planted.ms }] },
      'steady',
    )
    const found = assessment.findings.find(
      one => one.kind === 'hesitation' && one.bar === planted.bar && Math.abs(one.beat - planted.beat) < 0.02,
    )
    return found?.kind === 'hesitation' ? Math.abs(found.ms - planted.ms) : undefined
  })
  return {
    offsetMs: errors(
      all,
      () => ({ ...player, offsetMs: 60 }),
      ({ summary }) => summary.offsetMs - 60,
    ),
    driftPercent: errors(
      all,
      () => ({ ...player, rushPercent: 3 }),
      ({ summary }) => summary.driftPercent + 3,
    ),
    unsteadinessShare: errors(
      all,
      () => player,
      ({ summary }, _, { notes }) => {
        const moves = notes.flatMap(note => (note.outcome === 'right' ? [note.displacementMs!] : []))
        const mean = moves.reduce((sum, move) => sum + move, 0) / moves.length
        return (
          summary.unsteadinessMs /
            Math.sqrt(moves.reduce((sum, move) => sum + (move - mean) ** 2, 0) / (moves.length - 1)) -
          1
        )
      },
    ),
    swingRatio: errors(
      situations(2 * takes, { bpms: [80, 110, 140], only: 'shuffle' }),
      ({ seed }) => ({ ...player, swingRatio: [1.5, 2, 2.5][seed % 3] }),
      ({ summary }, { seed }) => (summary.swingRatio ?? 0) - [1.5, 2, 2.5][seed % 3]!,
    ),
    hesitationMs: percentile(
      pauses.filter(one => one !== undefined),
      0.95,
    ),
    hesitationPlaced: pauses.filter(one => one !== undefined).length / pauses.length,
  }
}

/** How well: tables as in docs/scoring.md. */
export function listening(takes: number): void {
  const print = (line: string) => process.stdout.write(`${line}\n`)
  const four = (value: number) => value.toFixed(4)
  print(
    `\nnotes recognised, F1 (${demoSongs().length} demo songs, both hands, 60 to 160 bpm, ${18 * takes} takes a line; generic dynamic time warping as reference)`,
  )
  for (const { name, habits } of LEARNERS) {
    for (const mode of ['steady', 'free'] as const) {
      const scores = matching(habits, mode, takes)
      print(
        `  ${name}, ${mode}: matching ${four(scores.matching)} (time warping ${four(scores.warping)}), ${OUTCOMES.map(outcome => `${outcome} ${four(scores[outcome])}`).join(', ')}`,
      )
    }
  }
  print('\nfigures recovered, error that 19 of 20 takes stay under')
  for (const jitterMs of [8, 15, 25]) {
    const one = recovered(jitterMs, takes)
    print(
      `  unsteadiness ${jitterMs} ms: offset ${one.offsetMs.toFixed(1)} ms, drift ${one.driftPercent.toFixed(2)} %, unsteadiness ${(100 * one.unsteadinessShare).toFixed(1)} %, swing ratio ${one.swingRatio.toFixed(2)}, hesitation ${one.hesitationMs.toFixed(0)} ms, at the right place ${(100 * one.hesitationPlaced).toFixed(1)} %`,
    )
  }
  print(`\na good player's takes called clean: ${(100 * cleanShare(takes)).toFixed(1)} %`)
  print('\na planted finding is among the first two: good player, careful beginner')
  for (const planted of FINDINGS_PLANTED) {
    print(
      `  ${planted.kind}: ${(100 * plantedFound(planted, GOOD, takes)).toFixed(0)} %, ${(100 * plantedFound(planted, CHARACTERS.careful, takes)).toFixed(0)} %`,
    )
  }
}

import { assessTake } from '#core/ear/assess'
import type { Assessment } from '#core/ear/assessment'
import type { Finding, FindingKind } from '#core/ear/finding'
import { followTake } from '#core/ear/follow-take'
import { createLiveEar } from '#core/ear/live'
import type { Arrangement } from '#core/music/arrangement'
import { loopPlan } from '#core/music/loop'
import {
  barsPassage,
  expectedNotes,
  dueMarks,
  wholePassage,
  type ExpectedNote,
  type Passage,
} from '#core/music/passage'
import { MACHINE, type PlayerHabits } from '#core/players/habits'
import { simulatePlayer, type Truth } from '#core/players/simulate'
import { madeScore, RECIPES, type Recipe } from './made-scores'
import { demoSongs } from './songs'

/** A take to be listened to: of which score, at what tempo, how unsteady the player is, with which seed. */
export interface Occasion {
  name: string
  arrangement: Arrangement
  passage: Passage
  expected: ExpectedNote[]
  bpm: number
  jitterMs: number
  noise: PlayerHabits['noise']
  seed: number
  recipe?: Recipe
}
export type Mode = 'steady' | 'free'

/** One fault: how it is made, what it must be called, and in which takes it can be. */
export interface Fault {
  name: string
  kinds: readonly FindingKind[]
  /** Findings that may be made beside it and are true. */
  alsoTrue?: readonly FindingKind[]
  /** Undefined where the score has no place for it. */
  habits: (occasion: Occasion) => Partial<PlayerHabits> | undefined
  modes?: readonly Mode[]
  /** Whether a finding of the kind says what was done; by default the kind is enough. */
  isRight?: (finding: Finding, occasion: Occasion) => boolean
}

const bars = ({ arrangement }: Occasion) => arrangement.bars.length
const middleBars = (occasion: Occasion, count: number) => {
  const fromBar = 3 + (occasion.seed % Math.max(1, bars(occasion) - count - 4))
  return { fromBar, toBar: fromBar + count - 1 }
}
const meterIs = ({ arrangement }: Occasion, name: string) =>
  arrangement.bars.every(({ meter }) => `${meter.beats}/${meter.beatType}` === name)
const hasBoth = ({ expected }: Occasion) =>
  (['left', 'right'] as const).every(hand => expected.filter(note => note.hand === hand).length > 12)
const named = (expected: readonly ExpectedNote[], name: string) =>
  expected.filter(note => note.spelled.replace(/-?\d+$/, '') === name).length
/** A chord of the left hand that comes several times: its lowest note goes up an octave wherever it comes. */
function inverted({ expected }: Occasion): Record<string, number> | undefined {
  const chords = new Map<string, ExpectedNote[][]>()
  const byEvent = new Map<number, ExpectedNote[]>()
  for (const note of expected)
    if (note.hand === 'left') byEvent.set(note.eventMs, [...(byEvent.get(note.eventMs) ?? []), note])
  for (const chord of byEvent.values()) {
    if (chord.length < 3) continue
    const name = chord.map(note => note.pitch).join()
    chords.set(name, [...(chords.get(name) ?? []), chord])
  }
  const most = [...chords.values()].sort((a, b) => b.length - a.length)[0]
  return most && most.length >= 3
    ? Object.fromEntries(most.map(chord => [chord.reduce((low, note) => (note.pitch < low.pitch ? note : low)).id, 12]))
    : undefined
}
const hasShuffle = ({ arrangement }: Occasion) => (arrangement.swings ?? []).length > 0

export const FAULTS: readonly Fault[] = [
  {
    name: 'left hand 60 to 100 ms behind',
    kinds: ['hands-apart'],
    habits: one => (hasBoth(one) ? { leftLateMs: 60 + 10 * (one.seed % 5) } : undefined),
    isRight: finding => 'hand' in finding && finding.hand === 'left',
  },
  {
    name: 'right hand 60 to 100 ms behind',
    kinds: ['hands-apart'],
    habits: one => (hasBoth(one) ? { rightLateMs: 60 + 10 * (one.seed % 5) } : undefined),
    isRight: finding => 'hand' in finding && finding.hand === 'right',
  },
  {
    name: 'notes held 30 to 55 %',
    kinds: ['released-early'],
    habits: ({ seed }) => ({ articulation: { right: 0.3 + 0.05 * (seed % 6), left: 0.3 + 0.05 * (seed % 6) } }),
  },
  {
    name: 'pedal 200 to 400 ms late at every change',
    kinds: ['pedal-late'],
    habits: ({ arrangement, seed }) =>
      arrangement.pedals.length > 4 ? { pedalLateMs: 200 + 50 * (seed % 5) } : undefined,
  },
  {
    name: 'swing 1.5 : 1 where 2 : 1 is asked',
    kinds: ['swing'],
    habits: one => (hasShuffle(one) ? { swingRatio: 1.5 } : undefined),
  },
  {
    name: 'four bars 30 % slower',
    kinds: ['section-tempo'],
    habits: one => ({ sections: [{ ...middleBars(one, 4), tempoRatio: 0.7 }] }),
    isRight: finding => 'ratio' in finding && finding.ratio < 0.85,
  },
  {
    name: 'four bars 30 % faster',
    kinds: ['section-tempo'],
    habits: one => ({ sections: [{ ...middleBars(one, 4), tempoRatio: 1.3 }] }),
    isRight: finding => 'ratio' in finding && finding.ratio > 1.15,
  },
  {
    name: '6/8 bars half as fast again',
    kinds: ['section-tempo'],
    habits: ({ arrangement }) =>
      arrangement.bars.some(bar => bar.meter.beatType === 8) && arrangement.bars.some(bar => bar.meter.beatType === 4)
        ? {
            sections: arrangement.bars
              .filter(bar => bar.meter.beatType === 8)
              .map(bar => ({ fromBar: bar.number, toBar: bar.number, tempoRatio: 1.5 })),
          }
        : undefined,
  },
  {
    name: 'half the tempo',
    kinds: ['wrong-tempo'],
    modes: ['steady'],
    habits: () => ({ stretch: [2, 2] }),
    isRight: finding => 'because' in finding && finding.because === 'half',
  },
  {
    name: '1.35 to 1.6 times as slow as the click',
    kinds: ['wrong-tempo'],
    modes: ['steady'],
    habits: ({ seed }) => {
      const slow = 1.35 + 0.05 * (seed % 6)
      return { stretch: [slow, slow] }
    },
    isRight: finding => 'because' in finding && finding.because === 'slower',
  },
  {
    name: 'an extra beat in every bar of 5/4',
    kinds: ['counting'],
    habits: one => (meterIs(one, '5/4') ? { miscounts: [{ fromBar: 1, toBar: bars(one), quarters: 1 }] } : undefined),
    isRight: finding => 'counted' in finding && finding.counted === 6,
  },
  {
    name: 'an eighth short in every bar of 7/8',
    kinds: ['counting'],
    habits: one =>
      meterIs(one, '7/8') ? { miscounts: [{ fromBar: 1, toBar: bars(one), quarters: -0.5 }] } : undefined,
    isRight: finding => 'counted' in finding && finding.counted === 6,
  },
  {
    name: 'coming in a beat late',
    kinds: ['late-entry'],
    modes: ['steady'],
    habits: ({ arrangement }) => ({
      lateEntryQuarters:
        arrangement.bars[0]!.meter.beatType === 8 && arrangement.bars[0]!.meter.beats % 3 === 0 ? 1.5 : 1,
    }),
  },
  {
    name: 'coming in two bars late',
    kinds: ['late-entry'],
    modes: ['steady'],
    habits: ({
      arrangement: {
        bars: [bar],
      },
    }) => ({ lateEntryQuarters: (2 * bar!.length.n) / bar!.length.d }),
  },
  {
    name: 'tied notes struck again',
    kinds: ['re-struck-tie'],
    habits: ({ expected }) => (expected.filter(note => note.ties).length >= 2 ? { restrikesTies: 1 } : undefined),
  },
  {
    name: 'left hand an octave low',
    kinds: ['hand-displaced'],
    habits: one => (hasBoth(one) ? { displaced: { hand: 'left', halfSteps: -12 } } : undefined),
  },
  {
    name: 'right hand an octave high',
    kinds: ['hand-displaced'],
    habits: one => (hasBoth(one) ? { displaced: { hand: 'right', halfSteps: 12 } } : undefined),
  },
  {
    name: 'a hand one key off for three bars',
    kinds: ['hand-displaced'],
    habits: one => ({ displaced: { hand: 'right', whiteKeys: one.seed % 2 ? 1 : -1, ...middleBars(one, 3) } }),
  },
  {
    name: 'the sharp or flat of the signature forgotten',
    kinds: ['signature-forgotten'],
    habits: ({
      arrangement: {
        bars: [bar],
      },
      expected,
    }) => {
      const name = bar!.fifths > 0 ? 'F#' : bar!.fifths < 0 ? 'Bb' : ''
      return name && named(expected, name) >= 4 ? { forgets: [name] } : undefined
    },
  },
  {
    name: 'a chord always in the wrong inversion',
    kinds: ['habit'],
    habits: one => {
      const planted = inverted(one)
      return planted ? { plantedWrong: planted } : undefined
    },
  },
  {
    name: 'one finger always 60 ms late',
    kinds: ['habit'],
    alsoTrue: ['uneven', 'rhythm'],
    habits: one => (one.recipe?.fingers ? { lateKey: { hand: 'right', finger: 4, ms: 60 } } : undefined),
  },
  {
    name: 'a repeat not taken',
    kinds: ['repeat-not-taken'],
    alsoTrue: ['clean'],
    habits: ({ recipe }) => (recipe?.repeat ? { repeatNotTaken: { fromBar: 1, toBar: recipe.bars } } : undefined),
  },
  {
    name: 'a repeat taken once too often',
    kinds: ['repeat-taken-again'],
    alsoTrue: ['clean'],
    habits: ({ recipe }) =>
      recipe?.repeat ? { repeatAgain: { fromBar: 1, toBar: recipe.bars, afterTime: 2 } } : undefined,
  },
]

/** A score to be played, and the recipe it was made from. */
export interface Score {
  name: string
  arrangement: Arrangement
  recipe?: Recipe
}

let made: Score[] | undefined
const scores = (): Score[] =>
  (made ??= [
    ...demoSongs().map(({ song, arrangement }) => ({ name: song, arrangement })),
    ...RECIPES.map(recipe => ({ name: recipe.name, arrangement: madeScore(recipe), recipe })),
  ])

const TEMPOS = [66, 92, 120]
const NOISES: readonly PlayerHabits['noise'][] = ['drifting', 'independent', 'heavy-tailed']

/** Every score, `takes` times each unsteadiness, tempos and kinds of noise in turn. */
export function occasions(
  takes: number,
  unsteadiness: readonly number[] = [8, 14, 20],
  pool: readonly Score[] = scores(),
): Occasion[] {
  return pool.flatMap(({ name, arrangement, recipe }, which) =>
    unsteadiness.flatMap((jitterMs, level) =>
      Array.from({ length: takes }, (_, take): Occasion => {
        const seed = 10_000 * which + 100 * level + take
        const bpm = TEMPOS[(seed + which) % TEMPOS.length]!
        const passage = wholePassage(arrangement, 'both')
        return {
          name,
          arrangement,
          passage,
          expected: expectedNotes(arrangement, passage, bpm),
          bpm,
          jitterMs,
          noise: NOISES[(take + level) % NOISES.length]!,
          seed,
          recipe,
        }
      }),
    ),
  )
}

export function hearOccasion(
  occasion: Occasion,
  planted: Partial<PlayerHabits>,
  mode: Mode,
): { assessment: Assessment; truth: Truth } {
  const { arrangement, passage, expected, bpm, jitterMs, noise, seed } = occasion
  const habits: PlayerHabits = { ...MACHINE, jitterMs, noise, velocityJitter: 3, ...planted }
  const { take, truth } = simulatePlayer(
    expected,
    habits,
    seed,
    dueMarks(arrangement, passage, arrangement.pedals, bpm),
  )
  return {
    truth,
    assessment: assessTake({ arrangement, passage, take, mode, bpm: mode === 'steady' ? bpm : undefined }),
  }
}

/**
 * The players do not shape dynamics, so to miss them is true; and of one whose keys now and then lie far off, a wide
 * chord or a stray note.
 */
const isTrueAnyway = (finding: Finding, { noise }: Occasion): boolean =>
  finding.kind === 'dynamics' ||
  finding.kind === 'accent' ||
  (noise === 'heavy-tailed' && (finding.kind === 'chord-spread' || finding.kind === 'uneven'))

export interface FaultHeard {
  takes: number
  named: number
  nothingFalse: number
  misses: string[]
}

/** How often a fault is named first or second, and how often no false finding is beside it. */
export function faultHeard(
  { kinds, alsoTrue = [], habits, modes = ['steady', 'free'], isRight }: Fault,
  takes: number,
  pool?: readonly Score[],
): FaultHeard {
  const heard: FaultHeard = { takes: 0, named: 0, nothingFalse: 0, misses: [] }
  for (const occasion of occasions(takes, undefined, pool)) {
    const planted = habits(occasion)
    if (!planted) continue
    for (const mode of modes) {
      const {
        assessment: { findings },
      } = hearOccasion(occasion, planted, mode)
      const told = findings.filter(one => one.kind !== 'clean')
      const isNamed = told.slice(0, 2).some(one => kinds.includes(one.kind) && (isRight?.(one, occasion) ?? true))
      const falsely = told.filter(
        one => !kinds.includes(one.kind) && !alsoTrue.includes(one.kind) && !isTrueAnyway(one, occasion),
      )
      heard.takes++
      if (isNamed) heard.named++
      if (falsely.length === 0) heard.nothingFalse++
      if (!isNamed || falsely.length > 0)
        heard.misses.push(
          `${occasion.name} ${occasion.bpm} ${mode} ${occasion.jitterMs} ${occasion.noise} seed ${occasion.seed}: ${findings
            .slice(0, 5)
            .map(one => `${one.kind}${'bar' in one ? `@${one.bar}` : ''}`)
            .join(', ')}`,
        )
    }
  }
  return heard
}

/** Good takes called clean, and in which nothing else is found either. */
export function goodTakes(
  takes: number,
  jitterMs = 15,
  pool?: readonly Score[],
): { takes: number; clean: number; nothingElse: number; misses: string[] } {
  const heard = { takes: 0, clean: 0, nothingElse: 0, misses: [] as string[] }
  for (const occasion of occasions(takes, [jitterMs], pool)) {
    for (const mode of ['steady', 'free'] as const) {
      const {
        assessment: { summary, findings },
      } = hearOccasion(occasion, {}, mode)
      heard.takes++
      if (summary.clean) heard.clean++
      if (findings.length === 1 && summary.clean) heard.nothingElse++
      else
        heard.misses.push(
          `${occasion.name} ${occasion.bpm} ${mode} ${occasion.noise} seed ${occasion.seed}: ${findings
            .slice(0, 5)
            .map(one => `${one.kind}${'bar' in one ? `@${one.bar}` : ''}`)
            .join(', ')}`,
        )
    }
  }
  return heard
}

/**
 * Ways through music that returns: what the player does in its second half, where the first half is just as likely by
 * its notes.
 */
export const WAYS: readonly {
  name: string
  kinds: readonly FindingKind[]
  habits: (occasion: Occasion) => Partial<PlayerHabits>
}[] = [
  {
    name: 'a bar left out',
    kinds: ['skipped'],
    habits: one => ({ skips: [{ fromBar: placeInReturn(one), toBar: placeInReturn(one) }] }),
  },
  {
    name: 'a restart from a few notes back',
    kinds: ['restart'],
    habits: one => ({
      restarts: [
        { bar: placeInReturn(one), beat: 1, eventsBack: 2 + (one.seed % 6), pauseMs: 700 + 100 * (one.seed % 7) },
      ],
    }),
  },
  {
    name: 'a restart from two bars back',
    kinds: ['restart'],
    habits: one => ({
      restarts: [{ bar: placeInReturn(one), beat: 1, eventsBack: eventsBack(one, 2), pauseMs: 900 }],
    }),
  },
  {
    name: 'a stop',
    kinds: ['stopped'],
    habits: one => ({ skips: [{ fromBar: bars(one) / 2 + 2 + (one.seed % 4), toBar: bars(one) }] }),
  },
  {
    name: 'a stop with keys tried out',
    kinds: ['hesitation', 'extra-note'],
    habits: one => ({ noodles: [{ bar: placeInReturn(one), beat: 1, keys: 5 + (one.seed % 6), ms: 2500 }] }),
  },
]

const placeInReturn = (occasion: Occasion): number => {
  const half = bars(occasion) / 2
  return half + 3 + (occasion.seed % (half - 5))
}

/** The number of strikes between a bar of the return and a bar some bars before it. */
function eventsBack(occasion: Occasion, count: number): number {
  const bar = placeInReturn(occasion)
  const first = (number: number) => occasion.expected.find(note => note.bar === number)!.eventMs
  return new Set(
    occasion.expected
      .filter(note => note.eventMs >= first(bar - count) && note.eventMs < first(bar))
      .map(note => Math.round(note.eventMs)),
  ).size
}

export interface WayHeard {
  takes: number
  steady: number
  free: number
  live: number
  misses: string[]
}

/** The share of notes at the right stroke, and of strokes placed right at once, that counts as understood. */
const UNDERSTOOD = 0.97
const UNDERSTOOD_LIVE = 0.9

/** In how many takes of music that returns the way was understood: over a click, without one, and stroke by stroke. */
export function wayHeard(
  { kinds, habits }: (typeof WAYS)[number],
  takes: number,
  pool: readonly Score[] = scores().filter(({ recipe }) => recipe?.returns),
): WayHeard {
  const heard: WayHeard = { takes: 0, steady: 0, free: 0, live: 0, misses: [] }
  for (const occasion of occasions(takes, undefined, pool)) {
    const planted = habits(occasion)
    heard.takes++
    for (const mode of ['steady', 'free'] as const) {
      const {
        assessment: { notes, findings },
        truth,
      } = hearOccasion(occasion, planted, mode)
      const right = notes.filter((note, index) => note.played === truth.notes[index]!.played).length
      const isUnderstood =
        right >= UNDERSTOOD * notes.length && findings.slice(0, 2).some(one => kinds.includes(one.kind))
      if (isUnderstood) heard[mode]++
      else
        heard.misses.push(
          `${occasion.name} ${occasion.bpm} ${mode} seed ${occasion.seed}: ${right}/${notes.length} ${findings
            .slice(0, 4)
            .map(one => one.kind)
            .join(', ')}`,
        )
    }
    const { arrangement, passage, expected, bpm, jitterMs, noise, seed } = occasion
    const { take, truth } = simulatePlayer(expected, { ...MACHINE, jitterMs, noise, ...planted }, seed)
    const onsets = new Map(arrangement.notes.map(note => [note.id, note.onset.n / note.onset.d]))
    const wanted = new Map(
      truth.notes.flatMap(({ id, played }) => (played === null ? [] : [[played, onsets.get(id)!]])),
    )
    const places = followTake({ arrangement, passage, take, bpm }).filter(one => wanted.has(one.played))
    const at = places.filter(
      one => one.onsetQuarter !== null && Math.abs(one.onsetQuarter - wanted.get(one.played)!) <= 0.25,
    ).length
    if (at >= UNDERSTOOD_LIVE * places.length) heard.live++
    else heard.misses.push(`${occasion.name} ${occasion.bpm} live seed ${occasion.seed}: ${at}/${places.length}`)
  }
  return heard
}

/**
 * Strokes of two rounds of a loop, by the round they were played for, and how many were assigned to it; and second
 * rounds whose tempo is found.
 */
export interface RoundsHeard {
  tail: number
  tailRight: number
  next: number
  nextRight: number
  slow: number
  slowTold: number
}

const ROUND_BARS = 8
const SLOWER = [1.15, 1.25, 1.35, 1.45, 1.6]

/**
 * A player slower than the click reaches the end of a round while the next one runs. `goesOn`: finishes it and begins
 * the next one late; otherwise breaks off and begins with the click.
 */
export function slowRounds(goesOn: boolean, takes: number): RoundsHeard {
  const heard: RoundsHeard = { tail: 0, tailRight: 0, next: 0, nextRight: 0, slow: 0, slowTold: 0 }
  const all = occasions(takes, [14]).flatMap(occasion => SLOWER.map(slower => ({ ...occasion, slower })))
  for (const { arrangement, bpm, jitterMs, noise, seed, slower } of all) {
    const first = arrangement.bars[0]!.number
    const passage = barsPassage(arrangement, first, first + ROUND_BARS - 1, 'both')
    const expected = expectedNotes(arrangement, passage, bpm)
    const { roundMs } = loopPlan(arrangement, passage, bpm, 0)
    const beatMs = 60_000 / bpm
    const play = (round: number, stretch: number, startMs: number) =>
      simulatePlayer(
        expected,
        { ...MACHINE, jitterMs, noise, wrong: 0.02, missed: 0.01, stretch: [stretch, stretch] },
        seed + round,
      ).take.notes.map(note => ({ ...note, onsetMs: note.onsetMs + startMs, round }))
    const begun = play(0, slower, 0)
    const strokes = (
      goesOn
        ? [...begun, ...play(1, slower, slower * roundMs)]
        : [...begun.filter(note => note.onsetMs < roundMs - beatMs / 4), ...play(1, 1, roundMs)]
    )
      .filter(note => note.onsetMs < 2 * roundMs - beatMs / 4)
      .sort((a, b) => a.onsetMs - b.onsetMs)
    const ear = createLiveEar()
    for (const round of [0, 1, 2]) ear.addRound({ round, startMs: round * roundMs, expected, beatMs })
    for (const { pitch, onsetMs } of strokes) ear.hear(pitch, onsetMs)
    strokes.forEach(({ round, onsetMs }, stroke) => {
      const isRight = ear.roundOf(stroke) === round
      if (round === 0 && onsetMs > roundMs) heard.tailRight += Number(isRight)
      if (round === 0 && onsetMs > roundMs) heard.tail++
      if (round === 1) heard.nextRight += Number(isRight)
      if (round === 1) heard.next++
    })
    if (slower < TOLD_SLOWER) continue
    const second = strokes
      .filter((_, stroke) => ear.roundOf(stroke) === 1)
      .map(note => ({ ...note, onsetMs: note.onsetMs - roundMs }))
    const {
      findings: [worst],
    } = assessTake({ arrangement, passage, take: { notes: second, pedals: [] }, mode: 'steady', bpm })
    heard.slow++
    if (worst?.kind === 'wrong-tempo') heard.slowTold++
  }
  return heard
}

/** From this factor on, the whole pass must be called slower than the click. */
const TOLD_SLOWER = 1.3

/** How well faults are heard: tables as in docs/scoring.md. */
export function faults(takes: number): void {
  const print = (line: string) => process.stdout.write(`${line}\n`)
  const percent = (share: number) => `${(100 * share).toFixed(1)} %`
  const good = goodTakes(takes)
  print(
    `\ngood takes (15 ms) of ${scores().length} scores in all meters called clean: ${percent(good.clean / good.takes)}; nothing at all found in ${percent(good.nothingElse / good.takes)} (${good.takes} takes)`,
  )
  print('\na fault, 8 to 20 ms own unsteadiness: named first or second, nothing false beside it')
  for (const fault of FAULTS) {
    const { takes: count, named, nothingFalse } = faultHeard(fault, takes)
    print(`  ${fault.name}: ${percent(named / count)}, ${percent(nothingFalse / count)} (${count} takes)`)
  }
  print('\nmusic that returns: understood over a click, without one, live')
  for (const way of WAYS) {
    const { takes: count, steady, free, live } = wayHeard(way, 2 * takes)
    print(
      `  ${way.name}: ${percent(steady / count)}, ${percent(free / count)}, ${percent(live / count)} (${count} takes)`,
    )
  }
  print('\na loop played slower than the click (1.15 to 1.6 times): strokes given to the round they were played for')
  for (const goesOn of [true, false]) {
    const { tail, tailRight, next, nextRight } = slowRounds(goesOn, takes)
    print(
      `  ${goesOn ? `finished late: of the end ${percent(tailRight / tail)}, of the next round` : 'broken off, then with the click:'} ${percent(nextRight / next)} (${tail + next} strokes)`,
    )
  }
}

import { HANDS } from '#core/music/arrangement'
import { writeTake } from '#core/formats/midi/write-take'
import { expectedNotes, dueMarks } from '#core/music/passage'
import { CHARACTERS, MACHINE, type Character, type PlayerHabits } from '#core/players/habits'
import { simulatePlayer } from '#core/players/simulate'
import { passageOf, readScoreFile, writeWhole, VOICE_FLAGS } from '../files'
import { barRange, numberIn, parseCommand, UsageError } from '../usage'

const FLAGS = [
  'bpm',
  'seed',
  'hands',
  'bars',
  'character',
  'jitter',
  'spread',
  'wrong',
  'missed',
  'extra',
  'offset',
  'left-late',
  'hesitate',
  'restart',
  'skip',
  'rush',
  'stretch',
  'swing',
  'articulation',
  'melody',
  'pedal-late',
  'out',
  'truth',
] as const

export function simulate(args: string[]): void {
  const flags = parseCommand(args, ['SCORE'], [...FLAGS, ...VOICE_FLAGS], ['hesitate', 'restart', 'skip'], { out: 'o' })
  const bpm = flags.number('bpm', 10, 400)
  const seed = flags.number('seed', -(2 ** 31), 2 ** 31)
  const out = flags.text('out')
  if (bpm === undefined || seed === undefined || out === undefined)
    throw new UsageError('simulate needs --bpm, --seed and -o TAKE.mid')
  const character =
    flags.text('character') === undefined
      ? undefined
      : flags.choice('character', Object.keys(CHARACTERS) as Character[], 'good')
  const base: PlayerHabits = character ? CHARACTERS[character] : MACHINE
  const stretch = flags
    .text('stretch')
    ?.split(':')
    .map(text => numberIn(text, '--stretch FROM:TO', 0.2, 5))
  const articulation = flags.number('articulation', 0.05, 3)
  const habits: PlayerHabits = {
    ...base,
    jitterMs: flags.number('jitter', 0, 1000) ?? base.jitterMs,
    chordSpreadMs: flags.number('spread', 0, 1000) ?? base.chordSpreadMs,
    wrong: flags.number('wrong', 0, 1) ?? base.wrong,
    missed: flags.number('missed', 0, 1) ?? base.missed,
    extra: flags.number('extra', 0, 1) ?? base.extra,
    offsetMs: flags.number('offset', -2000, 2000) ?? base.offsetMs,
    leftLateMs: flags.number('left-late', -5000, 5000) ?? base.leftLateMs,
    rushPercent: flags.number('rush', -90, 90) ?? base.rushPercent,
    stretch: stretch ? [stretch[0]!, stretch[1] ?? stretch[0]!] : base.stretch,
    swingRatio: flags.number('swing', 0.5, 6) ?? base.swingRatio,
    articulation: articulation === undefined ? base.articulation : { right: articulation, left: articulation },
    melodySteps: flags.number('melody', -60, 60) ?? base.melodySteps,
    pedalLateMs: flags.number('pedal-late', -2000, 2000) ?? base.pedalLateMs,
    hesitations: [...base.hesitations, ...flags.list('hesitate').map(readHesitation)],
    restarts: [...base.restarts, ...flags.list('restart').map(readRestart)],
    skips: [
      ...base.skips,
      ...flags.list('skip').map(text => {
        const [fromBar, toBar] = barRange(text, '--skip')
        return { fromBar, toBar }
      }),
    ],
  }
  const score = flags.positionals[0]!
  const arrangement = readScoreFile(score, flags)
  const passage = passageOf(arrangement, score, flags.text('bars'), flags.choice('hands', HANDS, 'both'))
  const { take, truth } = simulatePlayer(
    expectedNotes(arrangement, passage, bpm),
    habits,
    seed,
    dueMarks(arrangement, passage, arrangement.pedals, bpm),
  )
  writeWhole(out, writeTake(take, bpm))
  const truthPath = flags.text('truth')
  if (truthPath)
    writeWhole(
      truthPath,
      `${JSON.stringify({ format: 'half-step/truth', version: 1, bpm, seed, ...truth }, null, 2)}\n`,
    )
}

function readHesitation(text: string): PlayerHabits['hesitations'][number] {
  const [bar, beat, ms, ...rest] = text.split(':')
  if (ms === undefined || rest.length > 0) throw new UsageError(`--hesitate takes BAR:BEAT:MS, not "${text}"`)
  return {
    bar: numberIn(bar!, 'BAR', 0, 100_000),
    beat: numberIn(beat!, 'BEAT', 1, 64),
    ms: numberIn(ms, 'MS', 0, 60_000),
  }
}

function readRestart(text: string): PlayerHabits['restarts'][number] {
  const [bar, beat, back, ms, ...rest] = text.split(':')
  if (ms === undefined || rest.length > 0) throw new UsageError(`--restart takes BAR:BEAT:MOMENTS:MS, not "${text}"`)
  return {
    bar: numberIn(bar!, 'BAR', 0, 100_000),
    beat: numberIn(beat!, 'BEAT', 1, 64),
    eventsBack: numberIn(back!, 'MOMENTS', 0, 10_000),
    pauseMs: numberIn(ms, 'MS', 0, 60_000),
  }
}

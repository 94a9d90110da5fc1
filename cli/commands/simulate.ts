import { writeTake } from '#core/formats/midi/write-take'
import { expectedNotes } from '#core/music/passage'
import { simulatePlayer, STEADY_HANDS } from '#core/players/simulate'
import { passageOf, readScoreFile, writeWhole } from '../files'
import { HANDS, numberIn, parseCommand, UsageError } from '../usage'

export function simulate(args: string[]): void {
  const flags = parseCommand(args, ['SCORE'],
    ['bpm', 'seed', 'hands', 'bars', 'jitter', 'spread', 'wrong', 'missed', 'extra', 'hesitate', 'rush', 'out', 'truth'], ['hesitate'], { out: 'o' })
  const bpm = flags.number('bpm', 10, 400)
  const seed = flags.number('seed', -(2 ** 31), 2 ** 31)
  const out = flags.text('out')
  if (bpm === undefined || seed === undefined || out === undefined) throw new UsageError('simulate needs --bpm, --seed and -o TAKE.mid')
  const habits = {
    ...STEADY_HANDS,
    jitterMs: flags.number('jitter', 0, 1000) ?? 0,
    chordSpreadMs: flags.number('spread', 0, 1000) ?? 0,
    wrong: flags.number('wrong', 0, 1) ?? 0,
    missed: flags.number('missed', 0, 1) ?? 0,
    extra: flags.number('extra', 0, 1) ?? 0,
    rushPercent: flags.number('rush', -90, 90) ?? 0,
    hesitations: flags.list('hesitate').map(readHesitation),
  }
  const score = flags.positionals[0]!
  const arrangement = readScoreFile(score)
  const expected = expectedNotes(arrangement, passageOf(arrangement, score, flags.text('bars'), flags.choice('hands', HANDS, 'both')), bpm)
  const { take, truth } = simulatePlayer(expected, habits, seed)
  writeWhole(out, writeTake(take, bpm))
  const truthPath = flags.text('truth')
  if (truthPath) writeWhole(truthPath, `${JSON.stringify({ format: 'half-step/truth', version: 1, bpm, seed, ...truth }, null, 2)}\n`)
}

function readHesitation(text: string) {
  const [bar, beat, ms, ...rest] = text.split(':')
  if (ms === undefined || rest.length > 0) throw new UsageError(`--hesitate takes BAR:BEAT:MS, not "${text}"`)
  return { bar: numberIn(bar!, 'BAR', 0, 100_000), beat: numberIn(beat!, 'BEAT', 1, 64), ms: numberIn(ms, 'MS', 0, 60_000) }
}

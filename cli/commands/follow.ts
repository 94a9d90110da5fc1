import { HANDS } from '#core/music/arrangement'
import { followTake } from '#core/ear/follow-take'
import { passageOf, printJson, readScoreFile, readTakeFile, VOICE_FLAGS } from '../files'
import { parseCommand } from '../usage'

export function follow(args: string[]): void {
  const flags = parseCommand(args, ['SCORE', 'TAKE.mid'], ['bpm', 'hands', 'bars', ...VOICE_FLAGS])
  const [score, take] = flags.positionals
  const bpm = flags.number('bpm', 10, 400)
  const arrangement = readScoreFile(score!, flags)
  const passage = passageOf(arrangement, score!, flags.text('bars'), flags.choice('hands', HANDS, 'both'))
  const rounded = (value: number | null) => (value === null ? null : Math.round(value * 1e6) / 1e6)
  printJson({
    strokes: followTake({ arrangement, passage, take: readTakeFile(take!), bpm }).map(
      ({ played, atMs, onsetQuarter, bar, beat }) => ({
        played,
        atMs: Math.round(atMs * 10) / 10,
        onsetQuarter: rounded(onsetQuarter),
        bar,
        beat: rounded(beat),
      }),
    ),
  })
}

import { MIN_REACH, MAX_REACH } from '#core/hands/ergonomics'
import { fingerPart } from '#core/hands/part-fingering'
import { arrangementEnd } from '#core/music/arrangement'
import { barsPassage } from '#core/music/passage'
import { ZERO } from '#core/music/quarters'
import { UnusableInput } from '#core/formats/unusable'
import { printJson, readScoreFile, VOICE_FLAGS } from '../files'
import { parseCommand, UsageError } from '../usage'

export function fingering(args: string[]): void {
  const flags = parseCommand(args, ['SCORE'], ['hand', 'span', 'from', 'to', 'keep', ...VOICE_FLAGS])
  const hand = flags.text('hand')
  if (hand !== 'right' && hand !== 'left') throw new UsageError('--hand right or --hand left is needed')
  const path = flags.positionals[0]!
  const arrangement = readScoreFile(path, flags)
  const first = flags.number('from', 0, 99_999)
  const last = flags.number('to', 0, 99_999)
  let stretch = { from: ZERO, to: arrangementEnd(arrangement) }
  if (first !== undefined || last !== undefined) {
    try {
      stretch = { ...barsPassage(arrangement, first ?? 0, last ?? 99_999, hand).stretches[0]! }
    } catch (error) {
      if (error instanceof RangeError) throw new UnusableInput(path, error.message)
      throw error
    }
  }
  const { notes, cost, events } = fingerPart(arrangement, stretch, hand, {
    reach: flags.number('span', MIN_REACH, MAX_REACH),
    keep: flags.choice<'written' | 'own' | 'none'>('keep', ['written', 'own', 'none'], 'written'),
  })
  printJson({ notes, cost, events })
}

import { HANDS } from '#core/music/arrangement'
import { assessTake } from '#core/ear/assess'
import { STRICTNESSES } from '#core/ear/parameters'
import { findingTexts } from '#core/words/findings'
import { measureLabel, measureSource } from '#core/words/measures'
import { passageOf, printJson, readScoreFile, readTakeFile, VOICE_FLAGS } from '../files'
import { parseCommand, UsageError } from '../usage'

export function assess(args: string[]): void {
  const flags = parseCommand(
    args,
    ['SCORE', 'TAKE.mid'],
    ['bpm', 'hands', 'bars', 'mode', 'offset', 'strictness', ...VOICE_FLAGS],
  )
  const [score, take] = flags.positionals
  const bpm = flags.number('bpm', 10, 400)
  const mode = flags.choice('mode', ['steady', 'free', 'own-time'], bpm === undefined ? 'free' : 'steady')
  if (mode === 'steady' && bpm === undefined) throw new UsageError('--mode steady needs --bpm')
  const hands = flags.choice('hands', HANDS, 'both')
  const offsetMs = flags.number('offset', -5000, 5000)
  const strictness = flags.choice('strictness', STRICTNESSES, 'normal')
  const arrangement = readScoreFile(score!, flags)
  const passage = passageOf(arrangement, score!, flags.text('bars'), hands)
  const assessment = assessTake({ arrangement, passage, take: readTakeFile(take!), mode, bpm, offsetMs, strictness })
  const texts = findingTexts(assessment.findings)
  printJson({
    ...assessment,
    measures: assessment.measures.map(measure => ({
      ...measure,
      label: measureLabel(measure),
      source: measureSource(measure),
    })),
    findings: assessment.findings.map((finding, index) => ({ ...finding, text: texts[index] })),
  })
}

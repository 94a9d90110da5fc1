import { NoteIndex } from '#core/recognise/note-index'
import { recognise as recogniseTake } from '#core/recognise/recognise'
import { printJson, readScoreFile, readTakeFile } from '../files'
import { UsageError } from '../usage'

export function recognise(args: string[]): void {
  const [take, ...scores] = args
  const flag = args.find(arg => arg.startsWith('-'))
  if (flag) throw new UsageError(`recognise takes no flags, and ${flag} is one`)
  if (take === undefined || scores.length === 0) throw new UsageError('recognise needs TAKE.mid and at least one SCORE')
  const index = new NoteIndex()
  scores.forEach((score, number) => index.add(number, readScoreFile(score)))
  const rounded = (value: number) => Math.round(value * 10) / 10
  printJson({
    stretches: recogniseTake(index, readTakeFile(take).notes).map(({ bits, bars: _bars, ...stretch }) => ({
      ...stretch,
      fromMs: rounded(stretch.fromMs),
      toMs: rounded(stretch.toMs),
      bits: rounded(bits),
    })),
  })
}

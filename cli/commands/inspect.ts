import { inspectArrangement } from '#core/formats/json'
import { printJson, readScoreFile } from '../files'
import { parseCommand } from '../usage'

export function inspect(args: string[]): void {
  const { positionals: [score] } = parseCommand(args, ['SCORE'], [])
  printJson(inspectArrangement(readScoreFile(score!)))
}

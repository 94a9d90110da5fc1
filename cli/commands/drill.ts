import { drillOf } from '#core/formats/arranged'
import { recipeFrom } from '#core/patterns/read-documents'
import { checkEnding, inFile, jsonFile, printJson, writeSong } from '../files'
import { READY_DRILLS, readyDrillNamed } from '#core/patterns/drills/bank'
import { parseCommand, UsageError } from '../usage'

/** A drill from its recipe, as an arrangement. */
export function drill(args: string[]): void {
  if (args.includes('--list')) return printJson({ drills: READY_DRILLS.map(({ name, recipe }) => ({ name, recipe })) })
  const flags = parseCommand(args, ['RECIPE.json'], ['reach', 'out'], [], { out: 'o' })
  const [path, out] = [flags.positionals[0]!, flags.text('out')]
  if (out === undefined) throw new UsageError('drill needs -o OUT')
  checkEnding(out)
  const reach = flags.number('reach', 7, 19)
  const ready = readyDrillNamed(path)
  if (ready && ready.name !== path) process.stderr.write(`half-step: "${path}" is called "${ready.name}" now\n`)
  const recipe = ready ? { title: ready.name, ...ready.recipe } : jsonFile(path, recipeFrom)
  writeSong(out, {
    ...(ready ? drillOf(recipe, { reach }) : inFile(path, () => drillOf(recipe, { reach }))),
    voices: [],
  })
}

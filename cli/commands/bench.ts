import { listening } from '../bench/listening'
import { speed } from '../bench/speed'
import { parseCommand } from '../usage'

/** Prints a line for each measurement of the core: how fast it is, and how well it hears simulated players. */
export function bench(args: string[]): void {
  const flags = parseCommand(args, [], ['only', 'takes'])
  const only = flags.choice('only', ['speed', 'listening', 'all'], 'all')
  if (only !== 'listening') speed()
  if (only !== 'speed') listening(flags.number('takes', 1, 100) ?? 4)
}

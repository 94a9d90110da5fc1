import { faults } from '../bench/faults'
import { listening } from '../bench/listening'
import { patterns } from '../bench/patterns'
import { practising } from '../bench/practising'
import { speed } from '../bench/speed'
import { workbench } from '../bench/workbench'
import { parseCommand } from '../usage'

/** Prints a line for each measurement of the core: how fast it is, and how well it hears simulated players. */
export function bench(args: string[]): void {
  const flags = parseCommand(args, [], ['only', 'takes'])
  const only = flags.choice(
    'only',
    ['speed', 'listening', 'faults', 'workbench', 'patterns', 'practising', 'all'],
    'all',
  )
  const wanted = (what: string) => only === 'all' || only === what
  if (wanted('speed')) speed()
  if (wanted('workbench')) workbench()
  if (wanted('patterns')) patterns()
  if (wanted('practising')) practising(3)
  if (wanted('faults')) faults(flags.number('takes', 1, 100) ?? 4)
  if (wanted('listening')) listening(flags.number('takes', 1, 100) ?? 4)
}

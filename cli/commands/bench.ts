import { parseCommand } from '../usage'

export function bench(args: string[]): void {
  parseCommand(args, [], [])
}

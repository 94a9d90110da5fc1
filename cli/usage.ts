import { parseArgs } from 'node:util'

/** The command line was not understood (exit 2). */
export class UsageError extends Error {}

/** Parses flags and the given number of positional arguments. Every flag takes a value; those in `many` may repeat. */
export function parseCommand<Flag extends string>(
  args: string[],
  positionals: string[],
  flags: readonly Flag[],
  many: readonly string[] = [],
  short: Record<string, string> = {},
) {
  // A value such as -12.5 would look like a flag to parseArgs.
  const joined: string[] = []
  for (const arg of args) {
    if (/^-\d/.test(arg) && joined.at(-1)?.startsWith('--')) joined[joined.length - 1] += `=${arg}`
    else joined.push(arg)
  }
  const options = Object.fromEntries(
    flags.map(flag => [
      flag,
      {
        type: 'string' as const,
        multiple: many.includes(flag),
        ...(short[flag] ? { short: short[flag] } : {}),
      },
    ]),
  )
  let parsed
  try {
    parsed = parseArgs({ args: joined, options, allowPositionals: true, strict: true })
  } catch (error) {
    throw new UsageError(error instanceof Error ? error.message : String(error))
  }
  if (parsed.positionals.length !== positionals.length) {
    throw new UsageError(
      `${positionals.join(' ')} ${positionals.length === 1 ? 'is' : 'are'} needed, and ${parsed.positionals.length} given`,
    )
  }
  const values = parsed.values as Record<Flag, string | string[] | undefined>
  return {
    positionals: parsed.positionals,
    text: (flag: Flag) => values[flag] as string | undefined,
    list: (flag: Flag) => (values[flag] as string[] | undefined) ?? [],
    number: (flag: Flag, least: number, most: number): number | undefined => {
      const value = values[flag]
      return value === undefined ? undefined : numberIn(String(value), `--${flag}`, least, most)
    },
    choice: <T extends string>(flag: Flag, choices: readonly T[], fallback: T): T => {
      const value = values[flag]
      if (value === undefined) return fallback
      if (!choices.includes(value as T))
        throw new UsageError(`--${flag} is one of ${choices.join(', ')}, not "${String(value)}"`)
      return value as T
    },
  }
}

export function numberIn(text: string, what: string, least: number, most: number): number {
  const value = Number(text)
  if (text.trim() === '' || !Number.isFinite(value) || value < least || value > most) {
    throw new UsageError(`${what} takes a number from ${least} to ${most}, not "${text}"`)
  }
  return value
}

/** `A-B` or `A` as printed bar numbers. */
export function barRange(text: string, flag = '--bars'): [number, number] {
  const match = /^(\d+)(?:-(\d+))?$/.exec(text)
  if (!match) throw new UsageError(`${flag} takes A-B with printed bar numbers, not "${text}"`)
  return [Number(match[1]), Number(match[2] ?? match[1])]
}

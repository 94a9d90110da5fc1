import { parseArgs } from 'node:util'
import { fail } from './log.mjs'

/**
 * The command's flags, as `options` (of node:util's parseArgs) names them; anything else ends it with what there is.
 */
export function flags(command, options) {
  try {
    return parseArgs({ options, allowPositionals: false }).values
  } catch (error) {
    const known = Object.entries(options).map(([name, { type }]) => `--${name}${type === 'string' ? ' VALUE' : ''}`)
    fail(
      `${error.message.split('. ')[0]}. ${known.length > 0 ? `${command} knows ${known.join(', ')}.` : `${command} has no flags.`}`,
    )
  }
}

/** The port number that a flag was given, at most `highest`; undefined where it was not given. */
export function portOf(flag, text, highest = 65_535) {
  if (text === undefined) return undefined
  const port = Number(text)
  if (!Number.isInteger(port) || port < 1 || port > highest)
    fail(`${flag}: a number from 1 to ${highest} was expected and is "${text}"`)
  return port
}

/** A number of things, at least one. */
export function countOf(flag, text, otherwise) {
  if (text === undefined) return otherwise
  const count = Number(text)
  if (!Number.isInteger(count) || count < 1 || count > 10_000)
    fail(`${flag}: a number from 1 to 10000 was expected and is "${text}"`)
  return count
}

import { parseArgs } from 'node:util'
import { fail } from './log.mjs'

/** The command's flags, as `options` (of node:util's parseArgs) names them; anything else ends it with what there is. */
export function flags(command, options) {
  try {
    return parseArgs({ options, allowPositionals: false }).values
  }
  catch (error) {
    const known = Object.entries(options).map(([name, { type }]) => `--${name}${type === 'string' ? ' VALUE' : ''}`)
    fail(`${error.message.split('. ')[0]}. ${known.length > 0 ? `${command} knows ${known.join(', ')}.` : `${command} has no flags.`}`)
  }
}

/** A port number. */
export function portOf(text, otherwise) {
  if (text === undefined) return otherwise
  const port = Number(text)
  if (!Number.isInteger(port) || port < 1 || port > 65_535) fail(`--port: a number from 1 to 65535 was expected and is "${text}"`)
  return port
}

/** A number of things, at least one. */
export function countOf(flag, text, otherwise) {
  if (text === undefined) return otherwise
  const count = Number(text)
  if (!Number.isInteger(count) || count < 1 || count > 10_000) fail(`${flag}: a number from 1 to 10000 was expected and is "${text}"`)
  return count
}

import { spawn } from 'node:child_process'
import { dirname } from 'node:path'
import { fileURLToPath } from 'node:url'
import { say } from './log.mjs'

export const ROOT = dirname(dirname(fileURLToPath(import.meta.url)))

/**
 * Runs a command to its end. Its output is shown, or with `quiet` kept and shown only if it fails; a long quiet one
 * says every 15 s that it is still at work. Gives { code, output }.
 */
export async function run(what, command, args, { quiet = false, env = {}, ...options } = {}) {
  const child = spawn(command, args, {
    cwd: ROOT,
    stdio: ['ignore', quiet ? 'pipe' : 'inherit', quiet ? 'pipe' : 'inherit'],
    env: { ...process.env, ...env },
    ...options,
  })
  let output = ''
  child.stdout?.on('data', chunk => {
    output += chunk
  })
  child.stderr?.on('data', chunk => {
    output += chunk
  })
  const heartbeat = quiet ? setInterval(() => say(`${what}: still at work`), 15_000) : undefined
  const code = await new Promise(resolve => {
    child.on('error', error => {
      output += error.message
      resolve(127)
    })
    child.on('close', resolve)
  })
  clearInterval(heartbeat)
  if (code !== 0 && quiet) process.stderr.write(output)
  return { code, output }
}

import { createHash } from 'node:crypto'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fail, say } from './log.mjs'
import { ROOT, run } from './run.mjs'

/** Installs the npm packages of the lockfile when they are not there as it says. */
export async function installPackages() {
  const [major, minor] = process.versions.node.split('.').map(Number)
  if (major < 20 || (major === 20 && minor < 19))
    fail(`Node.js 20.19 or later is needed; this is ${process.versions.node}.`)
  const stamp = join(ROOT, 'node_modules', '.half-step-lockfile')
  const lockfile = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lockfile) return
  say('installing the npm packages of the lockfile (about two minutes the first time)')
  const { code } = await run('npm ci', 'npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { quiet: true })
  if (code !== 0) fail('npm ci failed; what it said stands above.')
  writeFileSync(stamp, lockfile)
}

/** Installs Debian packages that are missing; `present` tells whether they are. Needs root or passwordless sudo. */
export async function installDebianPackages(names, present) {
  if (present()) return
  const asRoot = process.getuid?.() === 0 ? [] : ['sudo', '-n']
  const byHand = `Please install ${names.join(' and ')} yourself (on Debian: sudo apt-get install ${names.join(' ')}) and start again.`
  if (!existsSync('/usr/bin/apt-get'))
    fail(`${names.join(' and ')} is needed and apt-get is not on this machine. ${byHand}`)
  if (asRoot.length > 0 && (await run('sudo', 'sudo', ['-n', 'true'], { quiet: true })).code !== 0) {
    fail(`${names.join(' and ')} is needed and this user may not install packages. ${byHand}`)
  }
  say(`installing ${names.join(' and ')} from Debian's packages`)
  const apt = async (...args) => {
    const [command, ...rest] = [...asRoot, 'apt-get', '-q', ...args]
    return (await run(`apt-get ${args[0]}`, command, rest, { quiet: true, env: { DEBIAN_FRONTEND: 'noninteractive' } }))
      .code
  }
  await apt('update')
  if ((await apt('install', '-y', '--no-install-recommends', ...names)) !== 0 || !present())
    fail(`apt-get could not install ${names.join(' and ')}. ${byHand}`)
}

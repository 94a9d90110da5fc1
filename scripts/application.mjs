import { spawn } from 'node:child_process'
import { createHash, randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join, relative } from 'node:path'
import { setTimeout as delay } from 'node:timers/promises'
import { fail, say } from './log.mjs'
import { ROOT, run } from './run.mjs'

const BUILT_FROM = ['app', 'core', 'server', 'shared', 'public', 'demo', 'nuxt.config.ts', 'package-lock.json']

/** Builds the application when its sources are not the ones it was last built from. */
export async function buildApplication() {
  const stamp = join(ROOT, '.output', 'built-from')
  const sources = fingerprint(BUILT_FROM)
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === sources) return true
  say('building the application (one to two minutes)')
  const { code } = await run('build', process.execPath, ['node_modules/nuxt/bin/nuxt.mjs', 'build'], {
    quiet: true,
    env: { NODE_OPTIONS: '--max-old-space-size=4096' },
  })
  if (code !== 0) return false
  writeFileSync(stamp, sources)
  return true
}

function fingerprint(places) {
  const hash = createHash('sha256')
  const visit = path => {
    if (!existsSync(path)) return
    if (statSync(path).isDirectory()) {
      for (const entry of readdirSync(path).sort()) visit(join(path, entry))
      return
    }
    if (/\.(test\.ts|tsbuildinfo)$/.test(path)) return
    hash.update(relative(ROOT, path)).update('\0').update(readFileSync(path)).update('\0')
  }
  for (const place of places) visit(join(ROOT, place))
  return hash.digest('hex')
}

/**
 * The secret that seals the session cookies: from the environment, or kept in the folder so that sign-ins outlast a
 * restart.
 */
export function sessionPassword(folder) {
  if (process.env.NUXT_SESSION_PASSWORD) return process.env.NUXT_SESSION_PASSWORD
  const file = join(folder, 'session-password')
  if (!existsSync(file)) {
    mkdirSync(folder, { recursive: true })
    writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600 })
  }
  return readFileSync(file, 'utf8')
}

/** Waits before the server is restarted, ms; longer while it keeps ending at once. */
const AGAIN_MS = [500, 2_000, 10_000, 30_000]
/** A server that ran this long was healthy, ms. */
const WAS_WELL_MS = 60_000

/** The same, started again whenever it ends by itself; the first start must succeed. Gives { url, stop }. */
export async function keepRunning(options) {
  let application = await startApplication(options)
  let isOver = false
  void (async () => {
    for (let ends = 0, began = Date.now(); ;) {
      const code = await application.ended
      if (isOver) return
      ends = Date.now() - began > WAS_WELL_MS ? 0 : ends
      say(`the server ended (${code ?? 'killed'}); starting it again`)
      await delay(AGAIN_MS[Math.min(ends++, AGAIN_MS.length - 1)])
      if (isOver) return
      began = Date.now()
      application = await startApplication(options, { isPatient: true })
    }
  })()
  return {
    url: application.url,
    stop: async () => {
      isOver = true
      await application.stop()
    },
  }
}

/** The servers that run: none of them outlives this script, however it ends. */
const servers = new Set()
process.on('exit', () => {
  for (const server of servers) server.kill('SIGTERM')
})

/**
 * Starts the built application on loopback, with `environment` besides, and waits until it answers. Gives { url, stop,
 * ended }.
 */
export async function startApplication({ port, databaseUrl, password, environment = {} }, { isPatient = false } = {}) {
  const child = spawn(process.execPath, ['.output/server/index.mjs'], {
    cwd: ROOT,
    stdio: ['ignore', 'inherit', 'inherit'],
    // Away from the terminal's Ctrl-C, which this script turns into an orderly stop.
    detached: true,
    env: {
      ...process.env,
      NITRO_HOST: '127.0.0.1',
      NITRO_PORT: String(port),
      DATABASE_URL: databaseUrl,
      NUXT_SESSION_PASSWORD: password,
      NODE_ENV: 'production',
      ...environment,
    },
  })
  let running = true
  servers.add(child)
  const ended = new Promise(resolve =>
    child.on('exit', code => {
      running = false
      servers.delete(child)
      resolve(code)
    }),
  )
  const url = `http://127.0.0.1:${port}`
  for (let tries = 0; ; tries++) {
    // A patient caller waits until it has ended.
    if (isPatient && (!running || tries > 0)) break
    if (!running) fail('The application ended before it answered; what it said stands above.')
    const answer = await fetch(`${url}/api/health`).catch(() => undefined)
    if (answer?.ok) break
    if (tries > 300) fail('The application did not answer within 60 seconds.')
    await delay(200)
  }
  return {
    url,
    ended,
    pid: child.pid,
    stop: async () => {
      if (running) child.kill('SIGTERM')
      await Promise.race([ended, delay(8000).then(() => child.kill('SIGKILL'))])
    },
  }
}

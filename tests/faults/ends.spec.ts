/**
 * What a player has played is kept once, whatever ends: the server, the database, or both; and while the database is
 * away everybody is told. `HALF_STEP_FAULTS`: a fiftieth of it is how often something is ended.
 */
import { randomUUID } from 'node:crypto'
import { setTimeout as delay } from 'node:timers/promises'
import { demoBytes } from '../material/demo'
import { asking } from '../material/patience'
import { seededChance } from '#core/players/randomness'
import { expect, test } from '@playwright/test'
// @ts-expect-error: scripts are plain JavaScript
import { startApplication } from '../../scripts/application.mjs'
// @ts-expect-error: scripts are plain JavaScript
import { freePort, startThrowAwayCluster } from '../../scripts/postgres.mjs'

test.setTimeout(3_600_000)
const ENDS = Math.max(3, Math.round(Number(process.env.HALF_STEP_FAULTS ?? 60) / 50))
const PASSWORD = 'a password for the tests alone, forty letters'

interface Cluster {
  url: string
  stop: () => void
  crash: () => void
  comeBack: () => boolean
  freeze: () => void
  thaw: () => void
}
interface Application {
  url: string
  pid: number
  ended: Promise<unknown>
  stop: () => Promise<void>
}

/** A player who goes on sending passes until each is taken, as the page does. */
class Poster {
  readonly taken: string[] = []
  tries = 0
  private isOver = false
  private done: Promise<void> | undefined

  private constructor(
    private readonly url: string,
    private cookie: string,
    private readonly partId: string,
  ) {}

  static async begin(url: string): Promise<Poster> {
    const headers = (cookie: string, type: string) => ({ cookie, 'content-type': type, origin: url })
    const made = await fetch(`${url}/api/accounts`, {
      method: 'POST',
      headers: headers('', 'application/json'),
      body: JSON.stringify({ name: `Poster ${randomUUID()}`, password: 'a password of nobody' }),
    })
    const cookie = made.headers
      .getSetCookie()
      .map(one => one.split(';')[0])
      .join('; ')
    const song = (await (
      await fetch(`${url}/api/songs?name=a.musicxml`, {
        method: 'POST',
        headers: headers(cookie, 'application/octet-stream'),
        body: Buffer.from(demoBytes('lantern-ferry.musicxml')),
      })
    ).json()) as { id: string }
    const work = (await (await fetch(`${url}/api/songs/${song.id}/work`, { headers: { cookie } })).json()) as {
      parts: { id: string }[]
    }
    const poster = new Poster(url, cookie, work.parts[0]!.id)
    poster.done = poster.send()
    return poster
  }

  private async send() {
    for (let count = 0; !this.isOver; count++) {
      const id = randomUUID()
      const body = JSON.stringify({
        id,
        partId: this.partId,
        hands: 'right',
        bpm: 80,
        startedAt: new Date(1_795_000_000_000 + 60_000 * count).toISOString(),
        lengthMs: 9000,
        offsetMs: 0,
        take: { notes: [{ onsetMs: 0, durationMs: 300, pitch: 67, velocity: 60 }], pedals: [] },
      })
      for (;;) {
        this.tries++
        const status = await fetch(`${this.url}/api/passes`, {
          method: 'POST',
          headers: { cookie: this.cookie, 'content-type': 'application/json', origin: this.url },
          body,
          signal: AbortSignal.timeout(15_000),
        }).then(
          answer => answer.status,
          () => 0,
        )
        if (status === 201) break
        // What may pass is a lost connection, an outage, or a fault in the middle of one; anything else is wrong.
        if (![0, 500, 503].includes(status)) throw new Error(`a pass was answered with ${status}`)
        await delay(100)
      }
      this.taken.push(id)
      await delay(20)
    }
  }

  async stop(): Promise<{ id: string }[]> {
    this.isOver = true
    await this.done
    const kept: { id: string; startedAt: string }[] = []
    for (let before = ''; ;) {
      const page = (await (
        await fetch(`${this.url}/api/passes?limit=500${before ? `&before=${before}` : ''}`, {
          headers: { cookie: this.cookie },
        })
      ).json()) as { id: string; startedAt: string }[]
      kept.push(...page)
      if (page.length < 500) return kept
      before = page.at(-1)!.startedAt
    }
  }
}

test('passes are kept once, whatever ends while they are sent', async () => {
  const cluster = (await startThrowAwayCluster({ isDurable: true })) as Cluster
  const options = { port: await freePort(), databaseUrl: cluster.url, password: PASSWORD }
  let application = (await startApplication(options)) as Application
  const chance = seededChance(5)
  try {
    const posters = await Promise.all(Array.from({ length: 4 }, async () => await Poster.begin(application.url)))
    for (let count = 0; count < ENDS; count++) {
      await delay(300 + 700 * chance.uniform())
      const which = chance.pick(['server', 'database', 'both'] as const)
      if (which !== 'server') cluster.crash()
      if (which !== 'database') {
        process.kill(application.pid, 'SIGKILL')
        await application.ended
      }
      await delay(200 * chance.uniform())
      if (which !== 'server') await expect.poll(() => cluster.comeBack(), { timeout: 60_000 }).toBe(true)
      if (which !== 'database') application = (await startApplication(options)) as Application
    }
    await delay(1000)
    const found = await Promise.all(
      posters.map(async poster => ({
        taken: poster.taken,
        kept: (await poster.stop()).map(pass => pass.id),
        tries: poster.tries,
      })),
    )
    const sent = found.reduce((sum, one) => sum + one.taken.length, 0)
    console.log(
      `${ENDS} ends of server, database or both: ${sent} passes sent in ${found.reduce((sum, one) => sum + one.tries, 0)} tries, ${found.reduce((sum, one) => sum + one.kept.length, 0)} kept`,
    )
    for (const { taken, kept } of found) {
      expect(new Set(kept).size).toBe(kept.length)
      expect([...kept].sort()).toEqual([...taken].sort())
    }
    expect(sent).toBeGreaterThan(ENDS)
  } finally {
    await application.stop()
    cluster.stop()
  }
})

test('while the database is gone or hangs, everybody is told within seconds, and nothing needs to be started again', async ({
  page,
}) => {
  const cluster = (await startThrowAwayCluster({ isDurable: true })) as Cluster
  const application = (await startApplication({
    port: await freePort(),
    databaseUrl: cluster.url,
    password: PASSWORD,
    environment: { HALF_STEP_DEMO: '1' },
  })) as Application
  const health = async () =>
    (await (await fetch(`${application.url}/api/health`)).json()) as { ready: boolean; writing: boolean }
  try {
    await page.goto(`${application.url}/songs`)
    await expect(page.getByRole('link', { name: /^The Lantern Ferry/ })).toBeVisible()
    for (const [away, back] of [
      [() => cluster.crash(), () => cluster.comeBack()],
      [() => cluster.freeze(), () => cluster.thaw()],
    ] as const) {
      const stop = asking(`${application.url}/api/health`, 50, status => [200, 503].includes(status))
      away()
      await expect.poll(health, { timeout: 20_000 }).toMatchObject({ ready: false, writing: false })
      const answer = await page.request.get(`${application.url}/api/songs`, { timeout: 30_000 })
      expect(answer.status()).toBe(503)
      expect(Number(answer.headers()['retry-after'])).toBeGreaterThan(0)
      expect(((await answer.json()) as { message: string }).message).toContain('the database does not answer')
      await page.goto(`${application.url}/songs`, { timeout: 60_000 })
      await expect(page.getByRole('heading', { name: 'Not available right now' })).toBeVisible()
      await expect.poll(() => back() !== false, { timeout: 60_000 }).toBe(true)
      // The page comes back by itself.
      await expect(page.getByRole('link', { name: /^The Lantern Ferry/ })).toBeVisible({ timeout: 60_000 })
      const told = await stop()
      console.log(
        `/api/health while the database was away: slowest ${Math.round(told.tookMs.at(-1)!)} ms of ${told.tookMs.length}`,
      )
      expect(told.unwanted).toEqual([])
    }
  } finally {
    cluster.thaw()
    await application.stop()
    cluster.stop()
  }
})

test('an older server refuses a newer database, and a short secret is refused', async () => {
  const cluster = (await startThrowAwayCluster()) as Cluster
  const { spawnSync } = await import('node:child_process')
  const { default: pg } = await import('pg')
  const start = (secret: string) =>
    spawnSync(process.execPath, ['.output/server/index.mjs'], {
      encoding: 'utf8',
      timeout: 20_000,
      env: {
        ...process.env,
        NITRO_PORT: '0',
        NITRO_HOST: '127.0.0.1',
        DATABASE_URL: cluster.url,
        NUXT_SESSION_PASSWORD: secret,
        HALF_STEP_DEMO: '',
        NODE_ENV: 'production',
      },
    })
  try {
    const short = start('too short')
    expect([short.status, short.stderr]).toEqual([
      1,
      expect.stringContaining('NUXT_SESSION_PASSWORD must have at least 32 characters'),
    ])
    const application = (await startApplication({
      port: await freePort(),
      databaseUrl: cluster.url,
      password: PASSWORD,
    })) as Application
    await application.stop()
    const client = new pg.Client({ connectionString: cluster.url })
    await client.connect()
    await client.query("insert into drizzle.__drizzle_migrations (hash, created_at) values ('later', 99999999999999)")
    await client.end()
    const older = start(PASSWORD)
    expect([older.status, older.stderr]).toEqual([1, expect.stringContaining('made by a newer version of Half Step')])
  } finally {
    cluster.stop()
  }
})

test('where nothing can be written it is said; accounts can be closed; over TLS cookies are secure and a proxy may ask for it', async () => {
  const { default: pg } = await import('pg')
  const cluster = (await startThrowAwayCluster()) as Cluster
  const options = { port: await freePort(), databaseUrl: cluster.url, password: PASSWORD }
  const credentials = JSON.stringify({ name: 'Somebody', password: 'a password of nobody' })
  const post = async (path: string, more = {}) =>
    await fetch(`http://127.0.0.1:${options.port}${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', ...more },
      body: credentials,
    })
  let application = (await startApplication(options)) as Application
  try {
    const plain = await post('/api/accounts', { 'x-forwarded-proto': 'https' })
    expect([plain.status, plain.headers.get('strict-transport-security')]).toEqual([201, null])
    expect(plain.headers.get('set-cookie')).not.toMatch(/;\s*Secure/i)
    const client = new pg.Client({ connectionString: cluster.url })
    await client.connect()
    await client.query('alter database half_step set default_transaction_read_only = on')
    await client.query(
      'select pg_terminate_backend(pid) from pg_stat_activity where pid <> pg_backend_pid() and datname = current_database()',
    )
    await expect
      .poll(async () => await (await fetch(`${application.url}/api/health`)).json(), { timeout: 20_000 })
      .toEqual({ ready: false, database: 'answers', writing: false })
    await client.query(
      'begin; set transaction read write; alter database half_step set default_transaction_read_only = off; commit',
    )
    await client.end()
    await application.stop()
    Object.assign(process.env, { HALF_STEP_REGISTRATION: 'closed', HALF_STEP_PROXY: '1', HALF_STEP_HSTS: '1' })
    application = (await startApplication(options)) as Application
    expect((await post('/api/accounts')).status).toBe(403)
    const secure = await post('/api/session', {
      'x-forwarded-proto': 'https',
      'x-forwarded-for': '198.51.100.7, 203.0.113.9',
    })
    expect([secure.status, secure.headers.get('strict-transport-security')]).toEqual([
      200,
      expect.stringMatching(/^max-age=\d+$/),
    ])
    expect(secure.headers.get('set-cookie')).toMatch(/;\s*Secure/i)
  } finally {
    for (const name of ['HALF_STEP_REGISTRATION', 'HALF_STEP_PROXY', 'HALF_STEP_HSTS'])
      Reflect.deleteProperty(process.env, name)
    await application.stop()
    cluster.stop()
  }
})

import { closeDatabase, database, databaseUrl } from '../database/connection'
import { builtFile } from '../runtime/built-files'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { drizzle } from 'drizzle-orm/node-postgres'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import pg from 'pg'
import * as schema from '../database/schema'
import { forgetSessionsBefore } from '../database/queries/sessions'
import { rebuildSums, sumsAreMissing } from '../database/queries/sums'
import { backfillNotesKeys } from '../use-cases/backfill-notes-keys'
import { seedDemo } from '../use-cases/seed-demo'
import { refreshAllInBackground } from '../use-cases/review-pass'

/** One lock for all copies of the server that start with the same database. */
const START_LOCK = 4_118_203
/** Fewest characters of the secret that seals the cookies. */
const SECRET_CHARACTERS = 32

/**
 * Brings the database up to date before the first request is answered. Nitro does not wait for plugins, so each request
 * does; a failure is logged at once.
 */
export default defineNitroPlugin(nitro => {
  if ((process.env.NUXT_SESSION_PASSWORD ?? '').length < SECRET_CHARACTERS)
    end(
      `NUXT_SESSION_PASSWORD must have at least ${SECRET_CHARACTERS} characters: it seals the cookies of everybody who signs in`,
    )
  let isOver = false
  let stopFeeling: (() => void) | undefined
  const ready = prepare().then(
    () => {
      stopFeeling = startHealthProbe()
    },
    (error: unknown) =>
      end(`the database could not be prepared: ${error instanceof Error ? error.message : String(error)}`),
  )
  nitro.hooks.hook('request', async event => {
    if (event.path !== '/api/health') await ready
  })
  void ready
    .then(async () => await refreshAllInBackground(database(), workerPool(), () => isOver))
    .catch((error: unknown) => {
      if (!isOver)
        console.error('older passes could not be judged anew:', error instanceof Error ? error.message : error)
    })
  nitro.hooks.hook('close', async () => {
    isOver = true
    stopFeeling?.()
    await closeWorkerPool()
    await closeDatabase()
  })
})

function end(why: string): never {
  console.error(why)
  process.exit(1)
}

/** On a connection of its own: bringing years up to date may take longer than a request may. */
async function prepare(): Promise<void> {
  const client = new pg.Client({ connectionString: databaseUrl() })
  await client.connect()
  try {
    await client.query('select pg_advisory_lock($1)', [START_LOCK])
    const locked = drizzle(client, { schema, casing: 'snake_case' })
    const migrationsFolder = builtFile('migrations', 'server/database/migrations')
    await refuseNewer(client, migrationsFolder)
    await migrate(locked, { migrationsFolder })
    const named = await backfillNotesKeys(locked)
    if (named > 0 || (await sumsAreMissing(locked))) await locked.transaction(async tx => await rebuildSums(tx))
    await forgetSessionsBefore(locked, new Date(Date.now() - 1000 * Number(useRuntimeConfig().session.maxAge)))
    if (isDemoMode()) await seedDemo(locked)
  } finally {
    await client.query('select pg_advisory_unlock($1)', [START_LOCK]).catch(() => {})
    await client.end().catch(() => {})
  }
}

/** A server that is older than its database would write what the newer one does not expect. */
async function refuseNewer(client: pg.Client, migrationsFolder: string): Promise<void> {
  const { entries } = JSON.parse(readFileSync(join(migrationsFolder, 'meta/_journal.json'), 'utf8')) as {
    entries: { when: number }[]
  }
  const {
    rows: [table],
  } = await client.query<{ there: boolean }>("select to_regclass('drizzle.__drizzle_migrations') is not null as there")
  if (!table?.there) return
  const {
    rows: [newest],
  } = await client.query<{ at: string | null }>('select max(created_at) as at from drizzle.__drizzle_migrations')
  if (Number(newest?.at ?? 0) > Math.max(...entries.map(one => one.when)))
    throw new Error('it was made by a newer version of Half Step; start that one, or restore a backup from before')
}

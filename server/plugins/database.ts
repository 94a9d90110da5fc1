import { existsSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { drizzle } from 'drizzle-orm/node-postgres'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import * as schema from '../database/schema'
import { nameOldPasses } from '../database/queries/coach'
import { rebuildSums, sumsAreMissing } from '../database/queries/sums'
import { seedDemo } from '../database/seed-demo'
import { refreshAllAtLeisure } from '../use-cases/review-pass'

/** One lock for all copies of the server that start beside the same database. */
const START_LOCK = 4_118_203

/**
 * Brings the database up to date before the first request is answered. Nitro does not wait for plugins, so each
 * request does.
 */
export default defineNitroPlugin((nitro) => {
  const ready = prepare().catch((error: unknown) => {
    console.error('the database could not be prepared:', error instanceof Error ? error.message : error)
    process.exit(1)
  })
  nitro.hooks.hook('request', async () => { await ready })
  let isOver = false
  void ready.then(async () => await refreshAllAtLeisure(database(), () => isOver))
    .catch((error: unknown) => { if (!isOver) console.error('older passes could not be judged anew:', error instanceof Error ? error.message : error) })
  nitro.hooks.hook('close', async () => {
    isOver = true
    await closeDatabase()
  })
})

async function prepare(): Promise<void> {
  const client = await databasePool().connect()
  try {
    await client.query('select pg_advisory_lock($1)', [START_LOCK])
    const locked = drizzle(client, { schema, casing: 'snake_case' })
    await migrate(locked, { migrationsFolder: migrationsFolder() })
    const named = await nameOldPasses(locked)
    if (named > 0 || await sumsAreMissing(locked)) await locked.transaction(async tx => await rebuildSums(tx))
    if (isDemoMode()) await seedDemo(locked)
  }
  finally {
    await client.query('select pg_advisory_unlock($1)', [START_LOCK]).catch(() => {})
    client.release()
  }
}

function migrationsFolder(): string {
  const built = join(dirname(fileURLToPath(import.meta.url)), 'migrations')
  const candidates = [built, join(dirname(built), '..', 'migrations'), join(dirname(built), '..', '..', 'migrations'), join(process.cwd(), 'server/database/migrations')]
  const found = candidates.find(folder => existsSync(join(folder, 'meta')))
  if (!found) throw new Error(`the migrations are in none of ${candidates.join(', ')}`)
  return found
}

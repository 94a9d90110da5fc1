import { eq, sql } from 'drizzle-orm'
import type { Database } from '../../utils/database'
import { players } from '../schema'

export async function playerByName(db: Database, name: string) {
  const [player] = await db.select().from(players).where(sql`lower(${players.name}) = lower(${name})`)
  return player
}

export async function demoPlayer(db: Database) {
  const [player] = await db.select().from(players).where(eq(players.isDemo, true))
  return player
}

/** The new player, or undefined when the name is taken. */
export async function createPlayer(db: Database, name: string, passwordHash: string | null, isDemo = false) {
  const [player] = await db.insert(players).values({ name, passwordHash, isDemo }).onConflictDoNothing().returning()
  return player
}

import { eq, sql } from 'drizzle-orm'
import type { Database } from '../../utils/database'
import { players } from '../schema'
import { rebuildSums } from './sums'

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

const SETTINGS = { strictness: players.strictness, keyboardDelayMs: players.keyboardDelayMs, reachHalfSteps: players.reachHalfSteps, noteNames: players.noteNames, coach: players.coach, sessionMinutes: players.sessionMinutes, controls: players.controls, stand: players.stand, timeZone: players.timeZone }

export async function playerSettings(db: Database, playerId: string): Promise<PlayerSettings | undefined> {
  const [row] = await db.select(SETTINGS).from(players).where(eq(players.id, playerId))
  return row
}

/** Changes what is given and leaves the rest, also within the coach's settings and the Stand's look. */
export async function changeSettings(db: Database, playerId: string, { coach, stand, ...change }: Partial<PlayerSettings>): Promise<PlayerSettings | undefined> {
  return await db.transaction(async (tx) => {
    const [before] = await tx.select({ timeZone: players.timeZone }).from(players).where(eq(players.id, playerId)).for('update')
    const [row] = await tx.update(players).set({ ...change, ...(coach ? { coach: sql`${players.coach} || ${JSON.stringify(coach)}::jsonb` } : {}), ...(stand ? { stand: sql`${players.stand} || ${JSON.stringify(stand)}::jsonb` } : {}) }).where(eq(players.id, playerId))
      .returning(SETTINGS)
    if (row && row.timeZone !== before!.timeZone) await rebuildSums(tx, playerId)
    return row
  })
}

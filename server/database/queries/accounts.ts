import { eq, sql } from 'drizzle-orm'
import type { Database } from '../../utils/database'
import { accounts } from '../schema'
import { rebuildSums } from './sums'

export async function accountByName(db: Database, name: string) {
  const [player] = await db.select().from(accounts).where(sql`lower(${accounts.name}) = lower(${name})`)
  return player
}

export async function demoAccount(db: Database) {
  const [player] = await db.select().from(accounts).where(eq(accounts.isDemo, true))
  return player
}

/** The new player, or undefined when the name is taken. */
export async function createAccount(db: Database, name: string, passwordHash: string | null, isDemo = false) {
  const [player] = await db.insert(accounts).values({ name, passwordHash, isDemo }).onConflictDoNothing().returning()
  return player
}

const SETTINGS = { strictness: accounts.strictness, keyboardDelayMs: accounts.keyboardDelayMs, reachHalfSteps: accounts.reachHalfSteps, noteNames: accounts.noteNames, coach: accounts.coach, sessionMinutes: accounts.sessionMinutes, controls: accounts.controls, stand: accounts.stand, sound: accounts.sound, delays: accounts.delays, timeZone: accounts.timeZone }

export async function playerSettings(db: Database, playerId: string): Promise<PlayerSettings | undefined> {
  const [row] = await db.select(SETTINGS).from(accounts).where(eq(accounts.id, playerId))
  return row
}

/** Changes what is given and leaves the rest, also within the coach's settings, the Stand's look and the sound. */
export async function changeSettings(db: Database, playerId: string, { coach, stand, sound, ...change }: Partial<PlayerSettings>): Promise<PlayerSettings | undefined> {
  return await db.transaction(async (tx) => {
    const [before] = await tx.select({ timeZone: accounts.timeZone }).from(accounts).where(eq(accounts.id, playerId)).for('update')
    const [row] = await tx.update(accounts).set({ ...change, ...(coach ? { coach: sql`${accounts.coach} || ${JSON.stringify(coach)}::jsonb` } : {}), ...(stand ? { stand: sql`${accounts.stand} || ${JSON.stringify(stand)}::jsonb` } : {}), ...(sound ? { sound: sql`${accounts.sound} || ${JSON.stringify(sound)}::jsonb` } : {}) }).where(eq(accounts.id, playerId))
      .returning(SETTINGS)
    if (row && row.timeZone !== before!.timeZone) await rebuildSums(tx, playerId)
    return row
  })
}

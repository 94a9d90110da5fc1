import type { PlayerSettings } from '#shared/utils/settings'
import { and, count, eq, isNull, ne, sql } from 'drizzle-orm'
import type { Database, Queries } from '../connection'
import { accounts, days, passes, patterns, sessions, takes } from '../schema'
import { rebuildSums } from './sums'

export async function accountByName(db: Database, name: string) {
  const [player] = await db
    .select()
    .from(accounts)
    .where(sql`lower(${accounts.name}) = lower(${name})`)
  return player
}

export async function demoAccount(db: Database) {
  const [player] = await db.select().from(accounts).where(eq(accounts.isDemo, true))
  return player
}

export async function accountById(db: Database, id: string) {
  const [player] = await db.select().from(accounts).where(eq(accounts.id, id))
  return player
}

/** All players, by name. */
export async function allAccounts(db: Database): Promise<{ id: string; name: string }[]> {
  return await db.select({ id: accounts.id, name: accounts.name }).from(accounts).orderBy(accounts.name)
}

/** The only account there is, as long as it has no password; undefined otherwise. */
export async function soleOpenAccount(db: Database) {
  const players = await db
    .select({ id: accounts.id, name: accounts.name, passwordHash: accounts.passwordHash, isDemo: accounts.isDemo })
    .from(accounts)
    .limit(2)
  const [player] = players
  return players.length === 1 && player!.passwordHash === null && !player!.isDemo ? player : undefined
}

/** Whether there is any account; whether there is one without a password, the demo's aside. */
export async function whoIsHere(db: Database): Promise<{ isEmpty: boolean; openName: string | undefined }> {
  const [open] = await db
    .select({ name: accounts.name })
    .from(accounts)
    .where(and(isNull(accounts.passwordHash), eq(accounts.isDemo, false)))
    .limit(1)
  const [any] = open ? [open] : await db.select({ name: accounts.name }).from(accounts).limit(1)
  return { isEmpty: any === undefined, openName: open?.name }
}

/** Gives a player another name. Gives false when somebody else has it. */
export async function renameAccount(db: Database, id: string, name: string): Promise<boolean> {
  const [other] = await db
    .select({ id: accounts.id })
    .from(accounts)
    .where(and(sql`lower(${accounts.name}) = lower(${name})`, ne(accounts.id, id)))
  if (other) return false
  await db.update(accounts).set({ name }).where(eq(accounts.id, id))
  return true
}

export async function changePasswordHash(db: Database, id: string, passwordHash: string): Promise<void> {
  await db.update(accounts).set({ passwordHash }).where(eq(accounts.id, id))
}

/** Deletes an account with everything of it. */
export async function deleteAccount(db: Database, id: string): Promise<void> {
  await db.delete(accounts).where(eq(accounts.id, id))
}

/**
 * What is stored of a player beside the songs: passes and the size of their takes, bytes; days with notes; patterns;
 * sessions.
 */
export async function keptOf(db: Database, id: string) {
  const [its, weight, said, own, places] = await Promise.all([
    db.select({ count: count() }).from(passes).where(eq(passes.ownerId, id)),
    db
      .select({ bytes: sql<number>`coalesce(sum(octet_length(${takes.midi})), 0)::float8` })
      .from(takes)
      .where(eq(takes.ownerId, id)),
    db.select({ count: count() }).from(days).where(eq(days.ownerId, id)),
    db.select({ count: count() }).from(patterns).where(eq(patterns.ownerId, id)),
    db.select({ count: count() }).from(sessions).where(eq(sessions.ownerId, id)),
  ])
  return {
    passes: its[0]!.count,
    takeBytes: weight[0]!.bytes,
    days: said[0]!.count,
    patterns: own[0]!.count,
    sessions: places[0]!.count,
  }
}

/** The new player, or undefined when the name is taken. */
export async function createAccount(db: Database, name: string, passwordHash: string | null, isDemo = false) {
  const [player] = await db.insert(accounts).values({ name, passwordHash, isDemo }).onConflictDoNothing().returning()
  return player
}

/**
 * The first player of all, without a password; undefined when there is somebody already. One at a time: two pages that
 * ask at once make one account.
 */
export async function createFirstAccount(db: Database, name: string) {
  return await db.transaction(async tx => {
    await tx.execute(sql`lock table ${accounts} in share row exclusive mode`)
    const [any] = await tx.select({ id: accounts.id }).from(accounts).limit(1)
    if (any) return undefined
    const [player] = await tx.insert(accounts).values({ name, passwordHash: null }).returning()
    return player
  })
}

const SETTINGS = {
  strictness: accounts.strictness,
  keyboardDelayMs: accounts.keyboardDelayMs,
  reachHalfSteps: accounts.reachHalfSteps,
  noteNames: accounts.noteNames,
  coach: accounts.coach,
  sessionMinutes: accounts.sessionMinutes,
  controls: accounts.controls,
  stand: accounts.stand,
  sound: accounts.sound,
  delays: accounts.delays,
  timeZone: accounts.timeZone,
}

export async function playerSettings(db: Database, playerId: string): Promise<PlayerSettings | undefined> {
  const [row] = await db.select(SETTINGS).from(accounts).where(eq(accounts.id, playerId))
  return row
}

/** Changes what is given and leaves the rest, also within the coach's settings, the Stand's look and the sound. */
export async function changeSettings(
  db: Queries,
  playerId: string,
  { coach, stand, sound, ...change }: Partial<PlayerSettings>,
): Promise<PlayerSettings | undefined> {
  return await db.transaction(async tx => {
    const [before] = await tx
      .select({ timeZone: accounts.timeZone })
      .from(accounts)
      .where(eq(accounts.id, playerId))
      .for('update')
    const [row] = await tx
      .update(accounts)
      .set({
        ...change,
        ...(coach ? { coach: sql`${accounts.coach} || ${JSON.stringify(coach)}::jsonb` } : {}),
        ...(stand ? { stand: sql`${accounts.stand} || ${JSON.stringify(stand)}::jsonb` } : {}),
        ...(sound ? { sound: sql`${accounts.sound} || ${JSON.stringify(sound)}::jsonb` } : {}),
      })
      .where(eq(accounts.id, playerId))
      .returning(SETTINGS)
    if (row && row.timeZone !== before!.timeZone) await rebuildSums(tx, playerId)
    return row
  })
}

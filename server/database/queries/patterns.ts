import { and, asc, count, eq } from 'drizzle-orm'
import type { HandPattern } from '#core/patterns/hand-pattern'
import type { Database } from '../connection'
import { patterns } from '../schema'

/** Patterns of their own that a player may keep. */
export const MAX_PATTERNS = 200

/** A player's own patterns, the first first. */
export async function patternsOf(db: Database, ownerId: string): Promise<{ id: string; pattern: HandPattern }[]> {
  return await db
    .select({ id: patterns.id, pattern: patterns.document })
    .from(patterns)
    .where(eq(patterns.ownerId, ownerId))
    .orderBy(asc(patterns.createdAt))
}

/** Keeps a new pattern; gives its id, undefined when the player has as many as may be kept. */
export async function insertPattern(db: Database, ownerId: string, pattern: HandPattern): Promise<string | undefined> {
  const [kept] = await db.select({ count: count() }).from(patterns).where(eq(patterns.ownerId, ownerId))
  if (kept!.count >= MAX_PATTERNS) return undefined
  const [row] = await db.insert(patterns).values({ ownerId, document: pattern }).returning({ id: patterns.id })
  return row!.id
}

/** Changes a pattern of the player's; whether it is there. */
export async function updatePattern(db: Database, ownerId: string, id: string, pattern: HandPattern): Promise<boolean> {
  const rows = await db
    .update(patterns)
    .set({ document: pattern, updatedAt: new Date() })
    .where(and(eq(patterns.ownerId, ownerId), eq(patterns.id, id)))
    .returning({ id: patterns.id })
  return rows.length > 0
}

/** Takes a pattern away; what was made with it stays. */
export async function deletePattern(db: Database, ownerId: string, id: string): Promise<boolean> {
  const rows = await db
    .delete(patterns)
    .where(and(eq(patterns.ownerId, ownerId), eq(patterns.id, id)))
    .returning({ id: patterns.id })
  return rows.length > 0
}

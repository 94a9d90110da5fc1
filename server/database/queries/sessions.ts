import { and, eq, lt } from 'drizzle-orm'
import type { Database } from '../connection'
import { sessions } from '../schema'

/** Whether this session of an account has not been ended. */
export async function isSignedIn(db: Database, id: string, ownerId: string): Promise<boolean> {
  const [row] = await db
    .select({ id: sessions.id })
    .from(sessions)
    .where(and(eq(sessions.id, id), eq(sessions.ownerId, ownerId)))
  return row !== undefined
}

export async function beginSession(db: Database, id: string, ownerId: string): Promise<void> {
  await db.insert(sessions).values({ id, ownerId }).onConflictDoNothing()
}

export async function endSession(db: Database, id: string): Promise<void> {
  await db.delete(sessions).where(eq(sessions.id, id))
}

/** Signs an account out everywhere. */
export async function endSessionsOf(db: Database, ownerId: string): Promise<void> {
  await db.delete(sessions).where(eq(sessions.ownerId, ownerId))
}

/** Forgets sessions whose cookies have run out. */
export async function forgetSessionsBefore(db: Database, begun: Date): Promise<void> {
  await db.delete(sessions).where(lt(sessions.createdAt, begun))
}

import { createHash } from 'node:crypto'
import { accountById, changePasswordHash, deleteAccount, keptOf, renameAccount } from '../database/queries/accounts'
import { endSessionsOf } from '../database/queries/sessions'
import { songCounts } from '../database/queries/songs'
import type { Database } from '../database/connection'
import { notThere, Refusal } from './refusal'
import { normalisedName, requireStrongPassword, type SignInTools } from './sign-in'

/** A player's own account: how it is called, whether it has a password, and how much is kept. */
export async function ownAccount(db: Database, playerId: string) {
  const [account, songs, kept] = await Promise.all([
    accountById(db, playerId),
    songCounts(db, playerId),
    keptOf(db, playerId),
  ])
  if (!account) throw notThere('this account')
  return {
    name: account.name,
    isDemo: account.isDemo,
    hasPassword: account.passwordHash !== null,
    createdAt: account.createdAt,
    kept: { ...songs, ...kept },
  }
}

/** Gives the player another name; they are signed out everywhere. Throws a Refusal for a name that is taken. */
export async function rename(
  db: Database,
  playerId: string,
  wanted: string,
): Promise<{ id: string; name: string; isOpen: boolean }> {
  const account = await changeable(db, playerId)
  const name = normalisedName(wanted)
  if (!(await renameAccount(db, playerId, name))) throw new Refusal(409, `the name "${name}" is taken`)
  await endSessionsOf(db, playerId)
  return { id: playerId, name, isOpen: account.passwordHash === null }
}

export interface PasswordChange {
  current?: string
  password: string
  address: string
}

/**
 * Gives the player another password, or their first; they are signed out everywhere. Throws a Refusal for a wrong one
 * until now, or a weak one.
 */
export async function changePassword(
  tools: SignInTools,
  playerId: string,
  { current, password, address }: PasswordChange,
): Promise<{ id: string; name: string }> {
  const { db, passwords } = tools
  const account = await changeable(db, playerId)
  await verifyPassword(tools, account, current, address)
  requireStrongPassword(passwords, password, account.name)
  await changePasswordHash(db, playerId, await passwords.hash(password))
  await endSessionsOf(db, playerId)
  return { id: playerId, name: account.name }
}

/**
 * Deletes the account with everything of it. Throws a Refusal unless the name is given as it is, and the password where
 * there is one.
 */
export async function deleteOwnAccount(
  tools: SignInTools,
  playerId: string,
  { name, current, address }: { name: string; current?: string; address: string },
): Promise<void> {
  const account = await changeable(tools.db, playerId)
  if (normalisedName(name).toLowerCase() !== account.name.toLowerCase())
    throw new Refusal(422, `"name" must be "${account.name}", the name of this account`)
  await verifyPassword(tools, account, current, address)
  await deleteAccount(tools.db, playerId)
}

type Account = NonNullable<Awaited<ReturnType<typeof accountById>>>

async function changeable(db: Database, playerId: string): Promise<Account> {
  const account = await accountById(db, playerId)
  if (!account) throw notThere('this account')
  if (account.isDemo) throw new Refusal(403, "the demo's player stays as they are")
  return account
}

/** An open page does not prove who is at it: the password is asked for again, and attempts are counted. */
async function verifyPassword(
  { passwords, loginRateLimiter }: SignInTools,
  { id, passwordHash }: Account,
  given: string | undefined,
  address: string,
): Promise<void> {
  if (passwordHash === null) return
  const who = createHash('sha256').update(`again ${id}`).digest('base64url')
  const waitSeconds = await loginRateLimiter.count(who, address)
  if (waitSeconds > 0)
    throw new Refusal(
      429,
      `too many tries; please wait ${Math.ceil(waitSeconds / 60)} minutes and try again`,
      waitSeconds,
    )
  if (!(await passwords.isRight(passwordHash, given ?? '')))
    throw new Refusal(422, 'this is not the password of this account')
  await loginRateLimiter.forget(who, address)
}

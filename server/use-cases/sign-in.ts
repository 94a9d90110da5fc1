import { createHash } from 'node:crypto'
import { accountByName, createAccount, createFirstAccount } from '../database/queries/accounts'
import type { Passwords } from '../security/passwords'
import type { LoginRateLimiter } from '../security/login-rate-limiter'
import type { Database } from '../database/connection'
import { Refusal } from './refusal'

/** What somebody gives to be let in, and the address it comes from. */
export interface SignIn {
  name: string
  password: string
  address: string
}
export interface SignInTools {
  db: Database
  passwords: Passwords
  loginRateLimiter: LoginRateLimiter
}

/** Names are compared as people see them: one form for each character, one blank between words, whatever the case. */
export const nameAsSeen = (name: string): string => name.normalize('NFKC').trim().replaceAll(/\s+/gu, ' ')

/**
 * Lets somebody in. The same answer, after the same work, for an unknown name and a wrong password; too many tries for
 * a name or from an address are slowed down (429). Throws a Refusal.
 */
export async function signIn(
  { db, passwords, loginRateLimiter }: SignInTools,
  { name, password, address }: SignIn,
): Promise<{ id: string; name: string }> {
  const seen = nameAsSeen(name)
  const who = createHash('sha256').update(seen.toLowerCase()).digest('base64url')
  const waitSeconds = await loginRateLimiter.count(who, address)
  if (waitSeconds > 0) {
    console.warn(`sign-in refused after too many tries from ${address}`)
    throw new Refusal(
      429,
      `too many tries; please wait ${waitSeconds < 90 ? `${waitSeconds} seconds` : `${Math.ceil(waitSeconds / 60)} minutes`} and try again`,
      waitSeconds,
    )
  }
  const account = await accountByName(db, seen)
  const isRight = await passwords.isRight(account?.passwordHash ?? undefined, password)
  if (!account || !isRight) throw new Refusal(401, 'no account has this name and password')
  await loginRateLimiter.forget(who, address)
  return { id: account.id, name: account.name }
}

/** A name as it is kept. Throws a Refusal for an empty one. */
export function normalisedName(name: string): string {
  const seen = nameAsSeen(name)
  if (seen === '') throw new Refusal(400, '"name" is empty')
  return seen
}

/** Throws a Refusal for a password that contains the name, or that many people have. */
export function requireStrongPassword(passwords: Passwords, password: string, name: string): void {
  if (password.toLowerCase().includes(name.toLowerCase()) && name.length >= 4)
    throw new Refusal(422, 'the password must not contain the name')
  if (passwords.isCommon(password))
    throw new Refusal(422, 'this password is one of the most common ones; please choose another')
}

/** Makes an account. Throws a Refusal for a name that is taken and for a password that many people have. */
export async function register(
  { db, passwords, loginRateLimiter }: SignInTools,
  { name, password, address }: SignIn,
): Promise<{ id: string; name: string }> {
  const seen = normalisedName(name)
  requireStrongPassword(passwords, password, seen)
  const waitSeconds = await loginRateLimiter.countNew(address)
  if (waitSeconds > 0)
    throw new Refusal(429, 'too many new accounts from this address; please try again later', waitSeconds)
  const account = await createAccount(db, seen, await passwords.hash(password))
  if (!account) throw new Refusal(409, `the name "${seen}" is taken`)
  return { id: account.id, name: account.name }
}

/**
 * Makes the account of the first player of a program that runs for their own use: without a password. Throws a Refusal
 * when there is somebody already.
 */
export async function registerFirst(db: Database, name: string): Promise<{ id: string; name: string }> {
  const seen = normalisedName(name)
  const account = await createFirstAccount(db, seen)
  if (!account) throw new Refusal(409, 'somebody plays here already; a further account needs a password')
  return { id: account.id, name: account.name }
}

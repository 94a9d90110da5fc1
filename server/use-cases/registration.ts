import { whoIsHere } from '../database/queries/accounts'
import type { Database } from '../database/connection'

/** How the program is run, and where somebody asks from. */
export interface RegistrationPolicy {
  isOwn: boolean
  isHere: boolean
  isClosed: boolean
}

/**
 * Who may make an account: the first player of a program for their own use, who needs no password; anybody with a
 * password; or nobody, and why.
 */
export type RegistrationState = { may: 'first' | 'with-password' } | { may: 'nobody'; why: string }

/**
 * Where the program runs for one's own use, accounts are made at the machine it runs on, and not beside one that has no
 * password.
 */
export async function registrationFor(
  db: Database,
  { isOwn, isHere, isClosed }: RegistrationPolicy,
): Promise<RegistrationState> {
  if (isClosed) return { may: 'nobody', why: 'new accounts are closed on this server' }
  if (!isOwn) return { may: 'with-password' }
  if (!isHere) return { may: 'nobody', why: 'new accounts are made at the computer that Half Step runs on' }
  const { isEmpty, openName } = await whoIsHere(db)
  if (isEmpty) return { may: 'first' }
  return openName === undefined
    ? { may: 'with-password' }
    : {
        may: 'nobody',
        why: `${openName} has no password yet; once there are two of you everybody signs in, so that comes first (on the page Account)`,
      }
}

import { dictionary } from '@zxcvbn-ts/language-common'
import PQueue from 'p-queue'
import { ServerBusy } from '../heavy/pool'

/** Hashing takes a core for a twentieth of a second: how many at once, and how many queued. */
const HASHING = { atOnce: 1, waiting: 50 } as const
const BUSY_SECONDS = 3

const common = new Set(dictionary['passwords-common'].map(password => String(password).toLowerCase()))

/**
 * Hashes passwords, a few at a time and in threads of their own (Node's), so that guessing slows nothing but guessing.
 */
export class Passwords {
  private readonly line = new PQueue({ concurrency: HASHING.atOnce })
  private nobodys: Promise<string> | undefined

  constructor(
    private readonly hasher: {
      make: (password: string) => Promise<string>
      verify: (hash: string, password: string) => Promise<boolean>
    },
  ) {}

  async hash(password: string): Promise<string> {
    return await this.inLine(async () => await this.hasher.make(password))
  }

  /** The same work whether there is a hash or not. */
  async isRight(hash: string | undefined, password: string): Promise<boolean> {
    const against = hash ?? (await (this.nobodys ??= this.hash(crypto.randomUUID())))
    return (await this.inLine(async () => await this.hasher.verify(against, password))) && hash !== undefined
  }

  /** Whether it is on the list of the most used passwords, also with digits or signs behind it. */
  isCommon(password: string): boolean {
    const plain = password.toLowerCase()
    return common.has(plain) || common.has(plain.replace(/[^a-z]+$/, '')) || new Set(plain).size < 4
  }

  private async inLine<Made>(work: () => Promise<Made>): Promise<Made> {
    if (this.line.size >= HASHING.waiting) throw new ServerBusy(BUSY_SECONDS)
    return await this.line.add(work)
  }
}

let kept: Passwords | undefined
export const passwords = (): Passwords => (kept ??= new Passwords({ make: hashPassword, verify: verifyPassword }))

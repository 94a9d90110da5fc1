import { availableParallelism } from 'node:os'
import PQueue from 'p-queue'
import Piscina from 'piscina'
import { builtFile } from '../utils/built-files'
import type * as jobs from './jobs'

type Jobs = typeof jobs
export type JobName = keyof Jobs

/**
 * Work that a player waits for between two rounds, what a page waits for, and what takes its time: none waits for the
 * others.
 */
type Lane = 'quick' | 'page' | 'slow'
interface LaneLimits {
  threads: number
  mostMs: number
  mostMb: number
}
const LANES: Record<Lane, LaneLimits> = {
  quick: { threads: Math.max(1, availableParallelism() - 1), mostMs: 5_000, mostMb: 512 },
  page: { threads: 1, mostMs: 15_000, mostMb: 768 },
  slow: { threads: Math.max(1, Math.floor(availableParallelism() / 2)), mostMs: 20_000, mostMb: 1_024 },
}
const LANE_OF: Record<JobName, Lane> = {
  song: 'slow',
  corrections: 'slow',
  roles: 'slow',
  recording: 'slow',
  again: 'quick',
  pass: 'quick',
  plan: 'page',
  songOverview: 'page',
  stand: 'quick',
  edition: 'slow',
  drill: 'page',
  archivedRevision: 'slow',
  archivedPasses: 'slow',
}

/**
 * Jobs that may wait: of one player in one lane (a browser asks six things at a time, and may be open in two windows),
 * and of all together.
 */
const WAITING = { own: 16, all: 200 } as const

/** The server has no room for more work now; how soon to ask again, seconds. */
export class Busy extends Error {
  override readonly name = 'Busy'
  constructor(readonly retryAfterSeconds: number) {
    super('the server is busy; please try again in a moment')
  }
}

/** The work took longer, or more memory, than any real song does. */
export class TooMuchWork extends Error {
  override readonly name = 'TooMuchWork'
  constructor() {
    super('this takes longer to work out than the server allows for one request')
  }
}

/**
 * Does jobs in worker threads. Of each player one job at a time is in the line of its lane, so that whoever sends many
 * waits for their own and nobody else waits for them. A job has a time and memory limit; its thread is ended and
 * replaced when it goes beyond.
 */
export class HeavyWork {
  private readonly lanes = new Map<Lane, { pool: Piscina; line: PQueue }>()
  private readonly owners = new Map<string, PQueue>()
  private waiting = 0

  constructor(
    private readonly filename = builtFile('heavy/jobs.mjs'),
    private readonly limits: Record<Lane, LaneLimits> = LANES,
  ) {}

  /**
   * Throws Busy when too much is waiting, TooMuchWork when a limit is reached; an `AbortSignal`'s reason when whoever
   * asked has gone.
   */
  async run<Name extends JobName>(
    owner: string,
    name: Name,
    input: Parameters<Jobs[Name]>[0],
    gone?: AbortSignal,
  ): Promise<ReturnType<Jobs[Name]>> {
    const lane = LANE_OF[name]
    const own = this.ownerLine(`${lane} ${owner}`)
    if (own.size >= WAITING.own || this.waiting >= WAITING.all)
      throw new Busy(Math.ceil(this.limits[lane].mostMs / 2_000))
    this.waiting++
    try {
      const { pool, line } = this.lane(lane)
      return (await own.add(
        async () =>
          await line.add(async () => {
            gone?.throwIfAborted()
            return await this.inThread(pool, lane, name, input, gone)
          }),
      )) as ReturnType<Jobs[Name]>
    } finally {
      this.waiting--
    }
  }

  private async inThread(
    pool: Piscina,
    lane: Lane,
    name: JobName,
    input: unknown,
    gone?: AbortSignal,
  ): Promise<unknown> {
    const limit = AbortSignal.timeout(this.limits[lane].mostMs)
    try {
      return await pool.run(input, { name, signal: gone ? AbortSignal.any([limit, gone]) : limit })
    } catch (error) {
      gone?.throwIfAborted()
      if (limit.aborted || (error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY') throw new TooMuchWork()
      throw error
    }
  }

  private ownerLine(key: string): PQueue {
    let line = this.owners.get(key)
    if (!line) {
      const fresh = (line = new PQueue({ concurrency: 1 }))
      this.owners.set(key, fresh)
      fresh.on('idle', () => {
        if (this.owners.get(key) === fresh) this.owners.delete(key)
      })
    }
    return line
  }

  private lane(name: Lane) {
    let lane = this.lanes.get(name)
    if (!lane) {
      const { threads, mostMb } = this.limits[name]
      lane = {
        pool: new Piscina({
          filename: this.filename,
          minThreads: 1,
          maxThreads: threads,
          idleTimeout: 60_000,
          resourceLimits: { maxOldGenerationSizeMb: mostMb, stackSizeMb: 8 },
        }),
        line: new PQueue({ concurrency: threads }),
      }
      this.lanes.set(name, lane)
    }
    return lane
  }

  async close(): Promise<void> {
    await Promise.all([...this.lanes.values()].map(async ({ pool }) => await pool.destroy()))
  }
}

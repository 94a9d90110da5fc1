import { availableParallelism } from 'node:os'
import PQueue from 'p-queue'
import Piscina from 'piscina'
import { builtFile } from '../runtime/built-files'
import type * as jobs from './jobs'

type Jobs = typeof jobs
export type JobName = keyof Jobs

/**
 * Work that a player waits for between two rounds, what a page waits for, and what takes its time: none waits for the
 * others.
 */
type QueueClass = 'quick' | 'page' | 'slow'
interface QueueLimits {
  threads: number
  maxMs: number
  maxMb: number
}
const QUEUES: Record<QueueClass, QueueLimits> = {
  quick: { threads: Math.max(1, availableParallelism() - 1), maxMs: 5_000, maxMb: 512 },
  page: { threads: 1, maxMs: 15_000, maxMb: 768 },
  slow: { threads: Math.max(1, Math.floor(availableParallelism() / 2)), maxMs: 20_000, maxMb: 1_024 },
}
const QUEUE_OF: Record<JobName, QueueClass> = {
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
 * Jobs that may be queued: of one player in one class (a browser asks six things at a time, and may be open in two
 * windows), and of all together.
 */
const MAX_QUEUED = { own: 16, all: 200 } as const

/** The server has no room for more work now; how soon to ask again, seconds. */
export class ServerBusy extends Error {
  override readonly name = 'ServerBusy'
  constructor(readonly retryAfterSeconds: number) {
    super('the server is busy; please try again in a moment')
  }
}

/** The work took longer, or more memory, than any real song does. */
export class JobLimitExceeded extends Error {
  override readonly name = 'JobLimitExceeded'
  constructor() {
    super('this takes longer to work out than the server allows for one request')
  }
}

/**
 * Runs jobs in worker threads. One active job a player and queue, so that a player who sends many waits for their own
 * and nobody else waits for them. A job has a time and memory limit; its thread is ended and replaced when it exceeds
 * one.
 */
export class WorkerPool {
  private readonly queues = new Map<QueueClass, { pool: Piscina; line: PQueue }>()
  private readonly playerQueues = new Map<string, PQueue>()
  private waiting = 0

  constructor(
    private readonly filename = builtFile('heavy/jobs.mjs'),
    private readonly limits: Record<QueueClass, QueueLimits> = QUEUES,
  ) {}

  /**
   * Throws ServerBusy when too many jobs are queued, JobLimitExceeded when a limit is reached; an `AbortSignal`'s
   * reason when the client has disconnected.
   */
  async run<Name extends JobName>(
    owner: string,
    name: Name,
    input: Parameters<Jobs[Name]>[0],
    signal?: AbortSignal,
  ): Promise<ReturnType<Jobs[Name]>> {
    const queueClass = QUEUE_OF[name]
    const own = this.playerQueue(`${queueClass} ${owner}`)
    if (own.size >= MAX_QUEUED.own || this.waiting >= MAX_QUEUED.all)
      throw new ServerBusy(Math.ceil(this.limits[queueClass].maxMs / 2_000))
    this.waiting++
    try {
      const { pool, line } = this.queueOf(queueClass)
      return (await own.add(
        async () =>
          await line.add(async () => {
            signal?.throwIfAborted()
            return await this.inThread(pool, queueClass, name, input, signal)
          }),
      )) as ReturnType<Jobs[Name]>
    } finally {
      this.waiting--
    }
  }

  private async inThread(
    pool: Piscina,
    queueClass: QueueClass,
    name: JobName,
    input: unknown,
    signal?: AbortSignal,
  ): Promise<unknown> {
    const limit = AbortSignal.timeout(this.limits[queueClass].maxMs)
    try {
      return await pool.run(input, { name, signal: signal ? AbortSignal.any([limit, signal]) : limit })
    } catch (error) {
      signal?.throwIfAborted()
      if (limit.aborted || (error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new JobLimitExceeded()
      throw error
    }
  }

  private playerQueue(key: string): PQueue {
    let line = this.playerQueues.get(key)
    if (!line) {
      const fresh = (line = new PQueue({ concurrency: 1 }))
      this.playerQueues.set(key, fresh)
      fresh.on('idle', () => {
        if (this.playerQueues.get(key) === fresh) this.playerQueues.delete(key)
      })
    }
    return line
  }

  private queueOf(queueClass: QueueClass) {
    let queue = this.queues.get(queueClass)
    if (!queue) {
      const { threads, maxMb } = this.limits[queueClass]
      queue = {
        pool: new Piscina({
          filename: this.filename,
          minThreads: 1,
          maxThreads: threads,
          idleTimeout: 60_000,
          resourceLimits: { maxOldGenerationSizeMb: maxMb, stackSizeMb: 8 },
        }),
        line: new PQueue({ concurrency: threads }),
      }
      this.queues.set(queueClass, queue)
    }
    return queue
  }

  async close(): Promise<void> {
    await Promise.all([...this.queues.values()].map(async ({ pool }) => await pool.destroy()))
  }
}

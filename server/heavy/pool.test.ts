import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import { ServerBusy, WorkerPool, JobLimitExceeded } from './pool'

const folder = mkdtempSync(join(tmpdir(), 'half-step-pool-'))
const filename = join(folder, 'jobs.mjs')
// Jobs by the names of the real ones: one that waits, one that never ends, one that eats memory, one that fails.
writeFileSync(
  filename,
  `
export const pass = async ({ ms, gives }) => { await new Promise(resolve => setTimeout(resolve, ms)); return gives }
export const again = () => { for (;;) { /* without end */ } }
export const song = () => { const all = []; for (;;) all.push(Array.from({ length: 100_000 }, (_, index) => ({ index }))) }
export const stand = () => { throw new Error('a fault of the job') }
`,
)
const work = new WorkerPool(filename, {
  quick: { threads: 1, maxMs: 1_000, maxMb: 64 },
  page: { threads: 1, maxMs: 1_000, maxMb: 64 },
  slow: { threads: 1, maxMs: 20_000, maxMb: 64 },
})
/** The jobs of this test take what they like. */
const run = async (
  owner: string,
  name: 'pass' | 'again' | 'song' | 'stand',
  input: object = {},
  gone?: AbortSignal,
): Promise<unknown> => await work.run(owner, name, input as never, gone)

afterAll(async () => {
  await work.close()
  rmSync(folder, { recursive: true })
})

describe('heavy work', () => {
  it('is done in a thread, and gives what the job gives', async () => {
    expect(await run('one', 'pass', { ms: 1, gives: 7 })).toBe(7)
    await expect(run('one', 'stand')).rejects.toThrow('a fault of the job')
  })

  it('of one player waits for their own and not for all that another has sent', async () => {
    const order: string[] = []
    const many = Array.from({ length: 5 }, async (_, count) => {
      await run('many', 'pass', { ms: 60 })
      order.push(`many ${count}`)
    })
    const one = run('one', 'pass', { ms: 60 }).then(() => order.push('one'))
    await Promise.all([...many, one])
    expect(order.indexOf('one')).toBeLessThanOrEqual(1)
    expect(order.filter(name => name !== 'one')).toEqual(['many 0', 'many 1', 'many 2', 'many 3', 'many 4'])
  })

  it('is refused when too much of one player waits, and says how soon to ask again', async () => {
    const sent = Array.from(
      { length: 20 },
      async () =>
        await run('eager', 'pass', { ms: 5 }).then(
          () => 'done',
          (error: unknown) => error,
        ),
    )
    const answers = await Promise.all(sent)
    const busy = answers.filter(answer => answer instanceof ServerBusy)
    expect(busy.length).toBeGreaterThanOrEqual(3)
    expect(busy[0]!.retryAfterSeconds).toBeGreaterThan(0)
    expect(answers.filter(answer => answer === 'done').length + busy.length).toBe(20)
  })

  it('ends at its limit of time, and the next job is done', async () => {
    await expect(run('one', 'again')).rejects.toBeInstanceOf(JobLimitExceeded)
    expect(await run('one', 'pass', { ms: 1, gives: 'still there' })).toBe('still there')
  })

  it('ends at its limit of memory, and the other lane does not notice', async () => {
    const [eating, other] = await Promise.allSettled([run('one', 'song'), run('two', 'pass', { ms: 1, gives: 'fine' })])
    expect(eating).toMatchObject({ status: 'rejected', reason: expect.any(JobLimitExceeded) as unknown })
    expect(other).toMatchObject({ status: 'fulfilled', value: 'fine' })
  }, 30_000)

  it('is left when whoever asked has gone', async () => {
    const gone = new AbortController()
    const asked = run('one', 'pass', { ms: 900 }, gone.signal)
    setTimeout(() => gone.abort(), 20)
    await expect(asked).rejects.toThrow(/abort/i)
  })
})

/** How long requests take while something else goes on, and what they answer. */
import { get } from 'node:http'
import { performance } from 'node:perf_hooks'

/**
 * Asks one address again and again until it is told to stop; gives how long the answers took, ms, sorted, and which
 * were not as wanted.
 */
export function asking(url: string, everyMs: number, isWanted: (status: number) => boolean = status => status === 200) {
  const tookMs: number[] = []
  const unwanted: string[] = []
  let isOver = false
  const done = (async () => {
    while (!isOver) {
      const began = performance.now()
      const status = await statusOf(url).catch((error: unknown) => String(error))
      tookMs.push(performance.now() - began)
      if (typeof status === 'string' || !isWanted(status)) unwanted.push(String(status))
      await new Promise(resolve => setTimeout(resolve, everyMs))
    }
  })()
  return async () => {
    isOver = true
    await done
    return { tookMs: tookMs.sort((a, b) => a - b), unwanted }
  }
}

/** On a connection of its own: one that is kept is closed by the server while this process does something else. */
const statusOf = async (url: string): Promise<number> =>
  await new Promise((resolve, reject) => {
    get(url, { agent: false }, answer => {
      answer.resume()
      answer.on('end', () => resolve(answer.statusCode!))
    }).on('error', reject)
  })

export const percentile = (sorted: readonly number[], share: number): number =>
  sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0

import { wrap, type Remote } from 'comlink'
import type { PatternsWorker } from '~/workers/patterns'

let worker: Remote<PatternsWorker> | undefined

/** What makes patterns, editions and drills beside the page; started when it is first asked for something, and kept. */
export const usePatternsWorker = (): Remote<PatternsWorker> =>
  (worker ??= wrap<PatternsWorker>(
    new Worker(new URL('../../workers/patterns.ts', import.meta.url), { type: 'module', name: 'patterns' }),
  ))

import { wrap, type Remote } from 'comlink'
import type { PatternsWorker } from '~/workers/patterns'

let worker: Remote<PatternsWorker> | undefined

/** The worker for patterns, editions and drills, started on first use and kept. */
export const usePatternsWorker = (): Remote<PatternsWorker> =>
  (worker ??= wrap<PatternsWorker>(
    new Worker(new URL('../../workers/patterns.ts', import.meta.url), { type: 'module', name: 'patterns' }),
  ))

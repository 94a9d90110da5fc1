import { toRaw } from 'vue'
import { wrap, type Remote } from 'comlink'
import type { Arrangement } from '#core/music/arrangement'
import type { Judged, JudgedInShort, JudgeWorker, PassRequest } from '~/workers/judge'

/** Judges whole passes of one arrangement; they come back in the order in which they were given. */
export interface Judge {
  /** Gets ready before the first pass has ended. */
  prepare: () => void
  judge: (request: PassRequest) => Promise<Judged>
}

let worker: Remote<JudgeWorker> | undefined
const numbers = new WeakMap<Arrangement, number>()
let newest = 0
/** One pass after the other, whoever asks: the worker keeps the notes of one. */
let last: Promise<unknown> = Promise.resolve()

/** Judges passes in a worker, started when it is first asked for something: the page never waits for the ear. */
export function useJudge(arrangement: Arrangement): Judge {
  const plain = toRaw(arrangement)
  async function takeUp(): Promise<number> {
    worker ??= wrap<JudgeWorker>(new Worker(new URL('../workers/judge.ts', import.meta.url), { type: 'module', name: 'judge' }))
    const known = numbers.get(plain)
    if (known !== undefined) return known
    const id = ++newest
    numbers.set(plain, id)
    await worker.takeUp(id, plain)
    return id
  }
  async function judgeNow(request: PassRequest): Promise<Judged> {
    const judged = await worker!.judge(await takeUp(), request)
    if (judged) return await complete(judged)
    // Other songs have taken its place in the worker.
    numbers.delete(plain)
    return await complete((await worker!.judge(await takeUp(), request))!)
  }
  async function complete({ assessment, failed, notes }: JudgedInShort): Promise<Judged> {
    while (assessment.notes.length < notes) assessment.notes.push(...await worker!.notes(assessment.notes.length))
    // What is made of it, and drawn, is a task of its own.
    await new Promise(resolve => setTimeout(resolve))
    return { assessment, failed }
  }
  return {
    prepare: () => void takeUp(),
    judge: async (request) => {
      await takeUp()
      const judged = last.then(async () => await judgeNow(request))
      last = judged.catch(() => {})
      return await judged
    },
  }
}

import { toRaw } from 'vue'
import { wrap, type Remote } from 'comlink'
import type { Arrangement } from '#core/music/arrangement'
import { receivedPlan, type SongPlan } from '#core/coach/song-plan'
import type { Judged, JudgedInShort, JudgeWorker, PassRequest, PlanRequest } from '~/workers/judge'

/** Judges whole passes of one arrangement, which come back in the order in which they were given, and plans it. */
export interface Judge {
  /** Gets ready before the first pass has ended. */
  prepare: () => void
  judge: (request: PassRequest) => Promise<Judged>
  plan: (request: PlanRequest) => Promise<SongPlan>
}

let worker: Remote<JudgeWorker> | undefined
const numbers = new WeakMap<Arrangement, number>()
let newest = 0
/** Passes are judged one after the other: the worker holds the notes of one. */
let last: Promise<unknown> = Promise.resolve()

/** Judges and plans in a worker, started when it is first asked for something: the page never waits for the ear. */
export function useJudge(arrangement: Arrangement): Judge {
  const plain = toRaw(arrangement)
  async function takeUp(): Promise<number> {
    worker ??= wrap<JudgeWorker>(
      new Worker(new URL('../../workers/judge.ts', import.meta.url), { type: 'module', name: 'judge' }),
    )
    const known = numbers.get(plain)
    if (known !== undefined) return known
    const id = ++newest
    numbers.set(plain, id)
    await worker.takeUp(id, plain)
    return id
  }
  async function asked<Made>(
    ask: (worker: Remote<JudgeWorker>, id: number) => Promise<Made | undefined>,
  ): Promise<Made> {
    const id = await takeUp()
    const made = await ask(worker!, id)
    if (made) return made
    // Other songs have taken its place in the worker.
    numbers.delete(plain)
    const again = await takeUp()
    return (await ask(worker!, again))!
  }
  async function complete({ assessment, failed, notes }: JudgedInShort): Promise<Judged> {
    while (assessment.notes.length < notes) assessment.notes.push(...(await worker!.notes(assessment.notes.length)))
    // What is made of it, and drawn, is a task of its own.
    await new Promise(resolve => setTimeout(resolve))
    return { assessment, failed }
  }
  return {
    prepare: () => void takeUp(),
    judge: async request => {
      await takeUp()
      const judged = last.then(async () => await complete(await asked(async (one, id) => await one.judge(id, request))))
      last = judged.catch(() => {})
      return await judged
    },
    plan: async request => receivedPlan(plain, await asked(async (one, id) => await one.plan(id, toRaw(request)))),
  }
}

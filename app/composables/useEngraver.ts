import { wrap, type Remote } from 'comlink'
import type { Engraver, EngravingRequest } from '~/workers/engraver'

let engraver: Remote<Engraver> | undefined

/** The one engraver of the page: a worker with the notation library, started when it is first asked for something. */
export function useEngraver() {
  return {
    engrave: async (request: EngravingRequest): Promise<string> => {
      engraver ??= wrap<Engraver>(new Worker(new URL('../workers/engraver.ts', import.meta.url), { type: 'module', name: 'engraver' }))
      return await engraver.engrave(request)
    },
  }
}

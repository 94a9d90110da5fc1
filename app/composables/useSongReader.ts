import { proxy, wrap, type Remote } from 'comlink'
import type { SongChoices } from '#core/formats/read-score'
import type { Preview, SongReader } from '~/workers/reader'

let reader: Remote<SongReader> | undefined

const startWorker = (): Remote<SongReader> => reader ??= wrap<SongReader>(new Worker(new URL('../workers/reader.ts', import.meta.url), { type: 'module', name: 'reader' }))

/** Reads songs in a worker, started when it is first asked for something. */
export function useSongReader(start: () => Remote<SongReader> = startWorker) {
  return {
    read: async (bytes: Uint8Array, name: string, choices: SongChoices, onStage: (stage: string) => void): Promise<Preview | { reason: string }> => {
      return await start().read(bytes, name, choices, proxy(onStage))
    },
  }
}

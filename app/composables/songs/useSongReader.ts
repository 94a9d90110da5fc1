import { proxy, releaseProxy, wrap, type Remote } from 'comlink'
import type { SongChoices } from '#core/formats/read-score'
import type { Preview, SongReader } from '~/workers/reader'

/** A reader at work, and how it is ended. */
interface StartedReader {
  reader: Remote<SongReader>
  end: () => void
}

function startWorker(): StartedReader {
  const worker = new Worker(new URL('../../workers/reader.ts', import.meta.url), { type: 'module', name: 'reader' })
  const reader = wrap<SongReader>(worker)
  return {
    reader,
    end: () => {
      reader[releaseProxy]()
      worker.terminate()
    },
  }
}

/** The worker is shared by all pages and stays, with what it has loaded, until it is stopped. */
let started: StartedReader | undefined

/** Reads songs in a worker, started when it is first asked for something. */
export function useSongReader(start: () => StartedReader = startWorker) {
  let stopped: (() => void) | undefined
  return {
    /** Undefined when it was stopped. */
    read: async (
      bytes: Uint8Array,
      name: string,
      choices: SongChoices,
      onStage: (stage: string) => void,
    ): Promise<Preview | { reason: string } | undefined> => {
      started ??= start()
      const isStopped = new Promise<undefined>(resolve => {
        stopped = () => resolve(undefined)
      })
      return await Promise.race([started.reader.read(bytes, name, choices, proxy(onStage)), isStopped])
    },
    stop() {
      started?.end()
      started = undefined
      stopped?.()
    },
  }
}

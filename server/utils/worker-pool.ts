import { WorkerPool } from '../heavy/pool'

let work: WorkerPool | undefined

/** This process's threads for heavy work; started when they are first asked for something. */
export const workerPool = (): WorkerPool => (work ??= new WorkerPool())

export async function closeWorkerPool(): Promise<void> {
  await work?.close()
  work = undefined
}

import { HeavyWork } from '../heavy/pool'

let work: HeavyWork | undefined

/** This process's threads for heavy work; started when they are first asked for something. */
export const heavyWork = (): HeavyWork => (work ??= new HeavyWork())

export async function closeHeavyWork(): Promise<void> {
  await work?.close()
  work = undefined
}

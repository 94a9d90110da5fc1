/** The program as somebody starts it for their own use, with a database of its own. */
import { setTimeout as delay } from 'node:timers/promises'
// @ts-expect-error: scripts are plain JavaScript
import { startApplication } from '../../scripts/application.mjs'
// @ts-expect-error: scripts are plain JavaScript
import { freePort, startThrowAwayCluster } from '../../scripts/postgres.mjs'

export interface OwnProgram {
  url: string
  stop: () => Promise<void>
  startAgain: () => Promise<void>
  end: () => Promise<void>
}

/** Starts it; `stop` ends the server and leaves the database, `end` ends both. */
export async function startOwn(environment: Record<string, string> = {}): Promise<OwnProgram> {
  const cluster = (await startThrowAwayCluster()) as { url: string; stop: () => void }
  const port = (await freePort()) as number
  const start = async () =>
    (await startApplication({
      port,
      databaseUrl: cluster.url,
      password: 'a password for the tests alone, forty letters',
      environment: { HALF_STEP_DEMO: '', HALF_STEP_OWN: '1', ...environment },
    })) as { url: string; stop: () => Promise<void> }
  let application = await start()
  return {
    url: application.url,
    stop: async () => await application.stop(),
    startAgain: async () => {
      await delay(200)
      application = await start()
    },
    end: async () => {
      await application.stop()
      cluster.stop()
    },
  }
}

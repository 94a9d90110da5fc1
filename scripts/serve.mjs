import { join } from 'node:path'
import { buildApplication, keepRunning, sessionPassword } from './application.mjs'
import { fail, say } from './log.mjs'
import { freePort, startKeptCluster } from './postgres.mjs'

/** The port that is taken when none is asked for and it is free. */
const USUAL_PORT = 3000

/**
 * Builds the application if need be, starts its database in the folder `data` (or takes DATABASE_URL) and serves it on
 * loopback until this process is told to stop. `environment`: what the server is told; `beside`: what is to be served
 * beside it, given the address, gives what stops it. Gives the address.
 */
export async function serve({ port: asked, data, environment, beside }) {
  if (!(await buildApplication())) fail('The application could not be built; what the build said stands above.')
  const cluster = process.env.DATABASE_URL
    ? { url: process.env.DATABASE_URL, stop: () => {} }
    : await startKeptCluster(join(data, 'postgres'))
  process.on('exit', cluster.stop)
  const port = asked ?? (await freePort(USUAL_PORT))
  const application = await keepRunning({
    port,
    databaseUrl: cluster.url,
    password: sessionPassword(data),
    environment,
  })
  const stopBeside = await beside?.(application.url)
  let stopping = false
  const stop = async () => {
    if (stopping) return
    stopping = true
    say('stopping')
    await stopBeside?.()
    await application.stop()
    process.exit(0)
  }
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, stop)
  return application.url
}

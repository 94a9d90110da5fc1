import { flags, portOf } from './flags.mjs'
import { say } from './log.mjs'
import { installPackages } from './packages.mjs'

/** `npm run demo`, with `-- --port NUMBER` where 3000 is not wanted. */
const asked = portOf(flags('npm run demo --', { port: { type: 'string' } }).port ?? process.env.PORT, undefined)

say('Half Step: starting the demo')
await installPackages()

const { buildApplication, keepRunning, sessionPassword } = await import('./application.mjs')
const { freePort, startKeptCluster } = await import('./postgres.mjs')
const { fail } = await import('./log.mjs')

if (!await buildApplication()) fail('The application could not be built; what the build said stands above.')

const cluster = process.env.DATABASE_URL ? { url: process.env.DATABASE_URL, stop: () => {} } : await startKeptCluster()
process.on('exit', cluster.stop)

const port = asked ?? await freePort(3000)
const application = await keepRunning({ port, databaseUrl: cluster.url, password: sessionPassword(), demo: true })
let stopping = false
const stop = async () => {
  if (stopping) return
  stopping = true
  say('stopping')
  await application.stop()
  process.exit(0)
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, stop)
say(`Half Step is ready: ${application.url}   (Ctrl-C stops it)`)

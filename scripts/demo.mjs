import { say } from './log.mjs'
import { installPackages } from './packages.mjs'

say('Half Step: starting the demo')
await installPackages()

const { buildApplication, sessionPassword, startApplication } = await import('./application.mjs')
const { freePort, startKeptCluster } = await import('./postgres.mjs')
const { fail } = await import('./log.mjs')

if (!await buildApplication()) fail('The application could not be built; what the build said stands above.')

const cluster = process.env.DATABASE_URL ? { url: process.env.DATABASE_URL, stop: () => {} } : await startKeptCluster()
process.on('exit', cluster.stop)

const application = await startApplication({
  port: await freePort(Number(process.env.PORT) || 3000), databaseUrl: cluster.url, password: sessionPassword(), demo: true,
})
let stopping = false
const stop = async (code) => {
  if (stopping) return
  stopping = true
  say('stopping')
  await application.stop()
  process.exit(code)
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => stop(0))
say(`Half Step is ready: ${application.url}   (Ctrl-C stops it)`)
await application.ended
await stop(1)

import { join, resolve } from 'node:path'
import { countOf, flags, portOf } from './flags.mjs'
import { say } from './log.mjs'
import { installPackages } from './packages.mjs'

/** `npm start`: Half Step for one's own use. docs/running.md has its flags. */
const asked = flags('npm start --', {
  port: { type: 'string' },
  data: { type: 'string' },
  open: { type: 'boolean' },
  lan: { type: 'boolean' },
  'lan-port': { type: 'string' },
  archives: { type: 'string' },
  keep: { type: 'string' },
  'no-archives': { type: 'boolean' },
})
const port = portOf('--port', asked.port ?? process.env.PORT)
// The page with the certificate has the port after it.
const lanPort = portOf('--lan-port', asked['lan-port'], 65_534)
const kept = countOf('--keep', asked.keep, 14)

say('Half Step: starting')
await installPackages()

const { default: placesOf } = await import('env-paths')
const data = resolve(asked.data ?? placesOf('half-step', { suffix: '' }).data)
const archives = asked['no-archives'] ? undefined : resolve(asked.archives ?? join(data, 'archives'))

const { serve } = await import('./serve.mjs')
const environment = {
  HALF_STEP_OWN: '1',
  ...(archives ? { HALF_STEP_ARCHIVES: archives, HALF_STEP_ARCHIVES_KEPT: String(kept) } : {}),
  ...(asked.lan ? { HALF_STEP_PROXY: '1' } : {}),
}
let tellTablet
const url = await serve({
  port,
  data,
  environment,
  beside: asked.lan
    ? async address => {
        const { serveTheHouse } = await import('./lan/house.mjs')
        const house = await serveTheHouse({ address, folder: join(data, 'certificates'), port: lanPort })
        tellTablet = house.tell
        return house.stop
      }
    : undefined,
})
say(
  `your practice is kept in ${process.env.DATABASE_URL ? 'the database of DATABASE_URL' : data}${archives ? `; every day an archive of it is written to ${archives}` : ''}`,
)
await tellTablet?.()
say(`Half Step is ready: ${url}   (Ctrl-C stops it)`)
if (asked.open) {
  const { default: open } = await import('open')
  await open(url)
}

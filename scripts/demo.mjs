import { join } from 'node:path'
import { flags, portOf } from './flags.mjs'
import { say } from './log.mjs'
import { installPackages } from './packages.mjs'
import { ROOT } from './run.mjs'

/** `npm run demo`, with `-- --port NUMBER` where 3000 is not wanted. */
const port = portOf('--port', flags('npm run demo --', { port: { type: 'string' } }).port ?? process.env.PORT)

say('Half Step: starting the demo')
await installPackages()
const { serve } = await import('./serve.mjs')
const url = await serve({ port, data: join(ROOT, '.data'), environment: { HALF_STEP_DEMO: '1' } })
say(`Half Step is ready: ${url}   (Ctrl-C stops it)`)

import { existsSync, mkdirSync, renameSync, statSync } from 'node:fs'
import { readdir } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'

const ROOT = dirname(dirname(fileURLToPath(import.meta.url)))
const OUT = join(ROOT, '.data', 'cli', 'half-step.mjs')

/** Bundles the command line when its sources are newer than the last bundle; gives the bundle's URL. */
export async function buildCli() {
  if (!existsSync(join(ROOT, 'node_modules', 'esbuild'))) {
    process.stderr.write('half-step: the packages are not installed; run "npm ci" in the project first\n')
    process.exit(2)
  }
  if (!existsSync(OUT) || (await newestChange(['core', 'cli', 'shared', 'package.json'])) > statSync(OUT).mtimeMs) {
    const { build } = await import('esbuild')
    mkdirSync(dirname(OUT), { recursive: true })
    const draft = `${OUT}.${process.pid}.mjs`
    await build({
      absWorkingDir: ROOT,
      entryPoints: ['cli/main.ts'],
      outfile: draft,
      bundle: true,
      platform: 'node',
      format: 'esm',
      target: 'node20',
      logLevel: 'error',
      // They ask for Node's own modules in a way that only works where they lie.
      external: ['joi', 'tar-stream'],
    })
    renameSync(draft, OUT)
  }
  return pathToFileURL(OUT)
}

async function newestChange(places) {
  let newest = 0
  for (const place of places) {
    const path = join(ROOT, place)
    const stat = statSync(path)
    newest = Math.max(newest, stat.mtimeMs)
    if (!stat.isDirectory()) continue
    for (const entry of await readdir(path, { recursive: true }))
      newest = Math.max(newest, statSync(join(path, entry)).mtimeMs)
  }
  return newest
}

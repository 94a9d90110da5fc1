import { existsSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

/**
 * A file or folder built beside the server: next to its entry, wherever the calling chunk is; or in the sources during
 * development.
 */
export function builtFile(name: string, source?: string): string {
  const here = dirname(fileURLToPath(import.meta.url))
  const candidates = [
    join(here, name),
    join(here, '..', name),
    join(here, '..', '..', name),
    join(process.cwd(), '.nuxt', name),
    ...(source === undefined ? [] : [join(process.cwd(), source)]),
  ]
  const found = candidates.find(path => existsSync(path))
  if (!found) throw new Error(`${name} is in none of ${candidates.join(', ')}`)
  return found
}

import { readFileSync } from 'node:fs'
import { readdir } from 'node:fs/promises'
import { dirname, join, normalize } from 'node:path'
import ts from 'typescript'
import { expect, test } from 'vitest'

const ROOT = join(import.meta.dirname, '..')

/** The TypeScript files below a folder, tests left out, as paths from the project's root. */
const sourcesIn = async (folder: string): Promise<string[]> =>
  (await readdir(join(ROOT, folder), { recursive: true }))
    .filter(file => /\.ts$/.test(file) && !/\.(test|d)\.ts$/.test(file))
    .map(file => join(folder, file))

/** The project's own files that a file imports; types count as well. */
function importsOf(file: string, sources: ReadonlySet<string>): string[] {
  return ts.preProcessFile(readFileSync(join(ROOT, file), 'utf8')).importedFiles.flatMap(({ fileName }) => {
    const path = fileName
      .replace(/^#core\//, 'core/')
      .replace(/^#shared\//, 'shared/')
      .replace(/^~\//, 'app/')
    const target = `${path.startsWith('.') ? normalize(join(dirname(file), path)) : path}.ts`
    return sources.has(target) ? [target] : []
  })
}

/** A circle of imports, as a list of files that ends where it begins; undefined when there is none. */
function findCycle(graph: ReadonlyMap<string, readonly string[]>): string[] | undefined {
  const done = new Set<string>()
  const visit = (file: string, path: readonly string[]): string[] | undefined => {
    if (path.includes(file)) return [...path.slice(path.indexOf(file)), file]
    if (done.has(file)) return undefined
    for (const next of graph.get(file) ?? []) {
      const cycle = visit(next, [...path, file])
      if (cycle) return cycle
    }
    done.add(file)
    return undefined
  }
  for (const file of graph.keys()) {
    const cycle = visit(file, [])
    if (cycle) return cycle
  }
  return undefined
}

test('no file imports itself by way of others, not even for a type', async () => {
  const sources = new Set((await Promise.all(['core', 'cli', 'server', 'shared', 'app'].map(sourcesIn))).flat())
  expect(sources.size).toBeGreaterThan(400)
  const graph = new Map([...sources].map(file => [file, importsOf(file, sources)]))
  expect(findCycle(graph)).toBeUndefined()
  // The search finds one where there is one.
  expect(
    findCycle(
      new Map([
        ['a', ['b']],
        ['b', ['c']],
        ['c', ['b']],
      ]),
    ),
  ).toEqual(['b', 'c', 'b'])
})

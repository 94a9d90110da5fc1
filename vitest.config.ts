import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

const folder = (name: string) => fileURLToPath(new URL(name, import.meta.url))

export default defineConfig({
  resolve: { alias: { '~': folder('app'), '#shared': folder('shared') } },
  test: {
    projects: [
      {
        extends: true,
        // Pure functions: their files share one worker's modules, which are then loaded once.
        test: {
          name: 'core',
          isolate: false,
          include: [
            'core/**/*.test.ts',
            'cli/**/*.test.ts',
            'tests/*.test.ts',
            'tests/reference/**/*.test.ts',
            'shared/**/*.test.ts',
          ],
        },
      },
      {
        extends: true,
        test: { name: 'app', include: ['app/**/*.test.ts', 'server/**/*.test.ts', 'scripts/**/*.test.ts'] },
      },
    ],
    testTimeout: 120_000,
    // Of two cores, the library would use one.
    maxWorkers: Math.max(2, availableParallelism() - 1),
  },
})

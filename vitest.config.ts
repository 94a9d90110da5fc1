import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: ['core/**/*.test.ts', 'cli/**/*.test.ts', 'tests/reference/**/*.test.ts', 'app/**/*.test.ts', 'server/**/*.test.ts', 'scripts/**/*.test.ts'],
    testTimeout: 60_000,
  },
})

import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: ['packages/*/src/**/*.test.ts', 'packages/*/test/**/*.test.ts'],
    pool: 'forks',
    testTimeout: 120_000,
    hookTimeout: 120_000,
  },
})

import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'

const timeouts = { testTimeout: 120_000, hookTimeout: 120_000 }

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'node',
          include: ['packages/*/src/**/*.test.ts', 'packages/*/test/**/*.test.ts'],
          exclude: ['packages/web/test/components/**'],
          pool: 'forks',
          ...timeouts,
        },
      },
      {
        plugins: [vue()],
        test: {
          name: 'components',
          include: ['packages/web/test/components/**/*.test.ts'],
          environment: 'happy-dom',
          pool: 'forks',
          // Vuetify's modules bring style sheets along.
          server: { deps: { inline: ['vuetify'] } },
          ...timeouts,
        },
      },
    ],
  },
})

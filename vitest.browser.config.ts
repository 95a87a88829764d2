import { defineConfig } from 'vitest/config'
import path from 'node:path'

/** Whole-application tests: they share one built server and drive a real browser each, two files beside each other: more would only wait for two cores. */
export default defineConfig({
  resolve: { alias: { '@': path.resolve(import.meta.dirname, 'src') } },
  test: {
    include: ['tests/**/*.test.ts'],
    globalSetup: 'tests/share-server.ts',
    setupFiles: ['src/core/testing/quick-equality.ts'],
    maxWorkers: 2,
    testTimeout: 900_000,
    hookTimeout: 600_000,
    retry: 0,
  },
})

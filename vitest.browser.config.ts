import { defineConfig } from 'vitest/config'
import path from 'node:path'

/** Whole-application tests: they start the built server and drive a real browser, two files beside each other: much of each is waiting. */
export default defineConfig({
  resolve: { alias: { '@': path.resolve(import.meta.dirname, 'src') } },
  test: {
    include: ['tests/**/*.test.ts'],
    setupFiles: ['src/core/testing/quick-equality.ts'],
    maxWorkers: 2,
    testTimeout: 900_000,
    hookTimeout: 600_000,
    retry: 0,
  },
})

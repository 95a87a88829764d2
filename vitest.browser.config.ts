import { defineConfig } from 'vitest/config'
import path from 'node:path'

/** Whole-application tests: they start the built server and drive a real browser, one file after another. */
export default defineConfig({
  resolve: { alias: { '@': path.resolve(import.meta.dirname, 'src') } },
  test: {
    include: ['tests/**/*.test.ts'],
    setupFiles: ['src/core/testing/quick-equality.ts'],
    fileParallelism: false,
    testTimeout: 900_000,
    hookTimeout: 600_000,
    retry: 0,
  },
})

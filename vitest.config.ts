import { availableParallelism } from 'node:os'
import path from 'node:path'
import { defineConfig } from 'vitest/config'

const resolve = { alias: { '@': path.resolve(import.meta.dirname, 'src') } }
const setupFiles = ['src/core/testing/quick-equality.ts']
/** Several at a time on a busy machine: no test is this slow by itself. Milliseconds. */
const testTimeout = 180_000

/**
 * The computation is plain functions: its files share one set of modules a worker, which are then read once and not for every
 * file. What stores, opens and shows has globals of its own, and a set of modules for each file.
 */
export default defineConfig({
  test: {
    // One more than by itself it would take: what a test starts is waited for.
    maxWorkers: Math.max(2, availableParallelism()),
    projects: [
      {
        resolve,
        test: { name: 'core', include: ['src/core/**/*.test.ts'], isolate: false, setupFiles, testTimeout },
      },
      {
        resolve,
        test: {
          name: 'application',
          include: ['src/**/*.test.ts', 'cli/**/*.test.ts'],
          exclude: ['src/core/**', 'node_modules/**'],
          setupFiles,
          testTimeout,
        },
      },
    ],
  },
})

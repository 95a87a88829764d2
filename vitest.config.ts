import { readdirSync, readFileSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import path from 'node:path'
import { defineConfig } from 'vitest/config'

const resolve = { alias: { '@': path.resolve(import.meta.dirname, 'src') } }
const setupFiles = ['src/core/testing/quick-equality.ts']
/** Several at a time on a busy machine: nothing is this slow by itself. Milliseconds. */
const [testTimeout, hookTimeout] = [180_000, 180_000]

/** What puts something in the place of what all files share, stores, or belongs to the one project that is open. */
const OWN_GLOBALS = /\bvi\.(mock|stubGlobal|spyOn|useFakeTimers)|indexeddb|globalThis|@\/state\//i

const files = ['src', 'cli'].flatMap((folder) =>
  readdirSync(path.join(import.meta.dirname, folder), { recursive: true, encoding: 'utf8' })
    .filter((file) => file.endsWith('.test.ts'))
    .map((file) => path.posix.join(folder, file.split(path.sep).join('/'))),
)
const alone = files.filter(
  (file) =>
    /^src\/(state|data)\//.test(file) ||
    OWN_GLOBALS.test(readFileSync(path.join(import.meta.dirname, file), 'utf8')),
)

/**
 * Most is plain functions: their files share one set of modules a worker, which are then read once and not for every file. What
 * stores, opens and shows has globals of its own, and a set of modules for each file.
 */
export default defineConfig({
  test: {
    // One more than by itself it would take: what a test starts is waited for.
    maxWorkers: Math.max(2, availableParallelism()),
    projects: [
      {
        resolve,
        test: {
          name: 'together',
          include: files.filter((file) => !alone.includes(file)),
          isolate: false,
          setupFiles,
          testTimeout,
          hookTimeout,
        },
      },
      { resolve, test: { name: 'alone', include: alone, setupFiles, testTimeout, hookTimeout } },
    ],
  },
})

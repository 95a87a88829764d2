import { defineConfig } from 'vitest/config'
import path from 'node:path'

export default defineConfig({
  resolve: { alias: { '@': path.resolve(import.meta.dirname, 'src') } },
  test: {
    include: ['src/**/*.test.ts', 'cli/**/*.test.ts', 'demo/**/*.test.ts', 'scripts/**/*.test.ts'],
    testTimeout: 60_000,
  },
})

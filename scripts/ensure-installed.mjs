// Installs the packages of the lock file when node_modules does not match it. Plain Node: runs before any dependency.
import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import path from 'node:path'

export const root = path.resolve(import.meta.dirname, '..')

/** @param {{ quiet?: boolean }} options quiet: nothing on standard output. */
export function ensureInstalled({ quiet = false } = {}) {
  const lock = createHash('sha256')
    .update(readFileSync(path.join(root, 'package-lock.json')))
    .digest('hex')
  const stamp = path.join(root, 'node_modules', '.installed-from')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return
  if (!quiet) console.log('Installing packages …')
  const result = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: ['ignore', quiet ? 2 : 'inherit', 'inherit'],
  })
  if (result.status !== 0) {
    console.error('npm ci did not succeed; nothing was started.')
    process.exit(1)
  }
  writeFileSync(stamp, lock)
}

// Installs the packages of the lock file when node_modules does not match it. Plain Node: runs before any dependency.
import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import path from 'node:path'

export const root = path.resolve(import.meta.dirname, '..')

/** @param {{ quiet?: boolean }} options quiet: nothing on standard output. */
export function ensureInstalled({ quiet = false } = {}) {
  const lock = createHash('sha256')
    .update(readFileSync(path.join(root, 'package-lock.json')))
    .digest('hex')
  const stamp = path.join(root, 'node_modules', '.installed-from')
  const isThere = () => existsSync(stamp) && readFileSync(stamp, 'utf8') === lock
  if (isThere()) return
  // Several that find it so at once would take the packages from under each other: one installs, the others wait for it.
  mkdirSync(path.join(root, '.build'), { recursive: true })
  const turn = path.join(root, '.build', 'installing')
  for (;;) {
    try {
      mkdirSync(turn)
      break
    } catch (error) {
      if (error.code !== 'EEXIST') throw error
      const isLeft = Date.now() - (statSync(turn, { throwIfNoEntry: false })?.mtimeMs ?? 0) > LONGEST_MS
      if (isLeft) rmSync(turn, { recursive: true, force: true })
      else Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 200)
    }
  }
  try {
    if (!isThere()) install(lock, stamp, quiet)
  } finally {
    rmSync(turn, { recursive: true, force: true })
  }
}

/** An installation that takes longer was ended by something. Milliseconds. */
const LONGEST_MS = 15 * 60_000

function install(lock, stamp, quiet) {
  if (!quiet) console.log('Installing packages …')
  const result = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: ['ignore', quiet ? 2 : 'inherit', 'inherit'],
  })
  if (result.status !== 0) {
    console.error('npm ci did not succeed; nothing was started.')
    rmSync(path.join(root, '.build', 'installing'), { recursive: true, force: true })
    process.exit(1)
  }
  writeFileSync(stamp, lock)
}

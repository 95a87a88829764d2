// npm leaves platform packages that a registry does not carry out of the lock file, and `npm ci` then refuses the
// lock. Run this after every change of dependencies: it adds those optional entries, tagged so they are never installed
// where they do not belong.
import { readFileSync, writeFileSync } from 'node:fs'
import path from 'node:path'

const file = path.resolve(import.meta.dirname, '..', 'package-lock.json')
const lock = JSON.parse(readFileSync(file, 'utf8'))
const OS = [
  'darwin',
  'win32',
  'linux',
  'freebsd',
  'android',
  'openharmony',
  'aix',
  'netbsd',
  'openbsd',
  'sunos',
  'wasm32',
]
const CPU = ['arm64', 'x64', 'ia32', 'arm', 'riscv64', 'ppc64', 's390x', 'loong64', 'wasm32', 'mips64el']
let added = 0
for (const [owner, entry] of Object.entries(lock.packages)) {
  for (const [name, range] of Object.entries(entry.optionalDependencies ?? {})) {
    const nested = owner ? `${owner}/node_modules/${name}` : `node_modules/${name}`
    if (lock.packages[nested] || lock.packages[`node_modules/${name}`]) continue
    const words = name.replace(/^.*\//, '').split('-')
    const os = OS.filter((o) => words.includes(o))
    const cpu = CPU.filter((c) =>
      words.some((w) => w === c || (c === 'arm' && w.startsWith('arm') && w !== 'arm64')),
    )
    lock.packages[`node_modules/${name}`] = {
      version: range.replace(/^[^\d]*/, ''),
      optional: true,
      os: os.length > 0 ? os : ['none'],
      ...(cpu.length > 0 ? { cpu } : {}),
    }
    added++
  }
}
const sorted = Object.fromEntries(Object.entries(lock.packages).sort(([a], [b]) => (a < b ? -1 : 1)))
writeFileSync(file, JSON.stringify({ ...lock, packages: sorted }, null, 2) + '\n')
console.log(`${added} optional entries added`)

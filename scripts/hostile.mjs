// Spoils files of every kind that comes from outside and reads them as the application does: `node scripts/hostile.mjs
// [--rounds N | --seconds N] [--seed N] [--only KIND]`. What ends otherwise than well or in a refusal by name, takes longer than five
// seconds or more than 500 MB, or reaches for the network or a file, is written to `.build/hostile-findings/`, and ends it with 1.
import { spawn } from 'node:child_process'
import { parseArgs } from 'node:util'
import { bundle } from './bundle.mjs'
import { ensureInstalled, root } from './ensure-installed.mjs'

ensureInstalled()
const { values } = parseArgs({
  options: {
    rounds: { type: 'string' },
    seconds: { type: 'string' },
    seed: { type: 'string' },
    only: { type: 'string' },
  },
})
const program = await bundle('cli/testing/hostile.ts', 'hostile')
await bundle('cli/testing/film-thread.ts', 'film-thread')
/** How long one that never comes back is waited for. Milliseconds. */
const HANGS_MS = 30_000
const asked = {
  rounds: values.rounds ? Number(values.rounds) : values.seconds ? 1e9 : 1000,
  seconds: values.seconds ? Number(values.seconds) : 1e9,
  seed: Number(values.seed ?? Date.now() % 1e9),
}
const { HOSTILE_KINDS } = await import(program)
const kinds = values.only ? [values.only] : HOSTILE_KINDS
let findings = 0
for (const kind of kinds) {
  let first = 0
  const end = Date.now() + (1000 * asked.seconds) / kinds.length
  // Each kind in a process of its own; what never comes back is ended from here, and the next one goes on after it.
  while (first !== null)
    first = await new Promise((resolve) => {
      const order = { ...asked, kind, first, end }
      const run = `import(${JSON.stringify(program)}).then((own) => own.readHostile(${JSON.stringify(order)}))`
      const child = spawn(process.execPath, ['--expose-gc', '-e', run], {
        cwd: root,
        stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      })
      let at = first
      let isDone = false
      let timer = null
      const wait = () => {
        clearTimeout(timer)
        timer = setTimeout(() => child.kill('SIGKILL'), HANGS_MS)
      }
      wait()
      child.on('message', (told) => {
        wait()
        if ('round' in told) at = told.round
        if ('done' in told) {
          isDone = true
          findings += told.done
        }
      })
      child.on('exit', (code, signal) => {
        clearTimeout(timer)
        if (!isDone) {
          findings++
          console.log(`${kind}, seed ${asked.seed + at}: it never came back (${signal ?? code})`)
        }
        // One that ended by itself would end so again.
        resolve(isDone || signal === null ? null : at + 1)
      })
    })
}
console.log(`hostile files: ${findings} findings`)
process.exitCode = findings > 0 ? 1 : 0

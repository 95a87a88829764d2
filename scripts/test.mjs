// `npm test`: installs what is missing, lints, type-checks, runs unit tests, builds, runs browser tests, and ends with
// one line of counts. Plain Node until the packages are there.
import { spawn, spawnSync } from 'node:child_process'
import { mkdirSync, readFileSync, rmSync } from 'node:fs'
import path from 'node:path'
import { ensureInstalled, root } from './ensure-installed.mjs'

ensureInstalled()
const reports = path.join(root, '.build', 'reports')
rmSync(reports, { recursive: true, force: true })
mkdirSync(reports, { recursive: true })
const bin = (name, file) => path.join(root, 'node_modules', name, file)
let passed = 0
let failed = 0

/** Runs checks side by side, and prints what each says when it is done. */
async function check(checks) {
  await Promise.all(
    checks.map(async ([title, ...args]) => {
      const child = spawn(process.execPath, args, {
        cwd: root,
        stdio: ['ignore', 'pipe', 'pipe'],
        env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
      })
      let said = ''
      for (const stream of [child.stdout, child.stderr]) stream.on('data', (piece) => (said += piece))
      const code = await new Promise((resolve) => child.once('close', resolve))
      console.log(`\n== ${title}\n${said.trim()}`)
      if (code === 0) passed++
      else failed++
    }),
  )
}

/** Counts tests from the runner's own report; a run that leaves none counts as one failure. */
function runTests(title, config) {
  console.log(`\n== ${title}`)
  const report = path.join(reports, `${title.replace(/\W+/g, '-')}.json`)
  const result = spawnSync(
    process.execPath,
    [
      bin('vitest', 'vitest.mjs'),
      'run',
      '--config',
      config,
      '--reporter=default',
      '--reporter=json',
      `--outputFile.json=${report}`,
    ],
    { cwd: root, stdio: ['ignore', 'inherit', 'inherit'], env: process.env },
  )
  try {
    const counts = JSON.parse(readFileSync(report, 'utf8'))
    passed += counts.numPassedTests
    failed += counts.numFailedTests
    const suites = counts.testResults.filter(
      (r) => r.status === 'failed' && r.assertionResults.length === 0,
    ).length
    failed += suites
    if (result.status !== 0 && counts.numFailedTests + suites === 0) failed++
  } catch {
    failed++
  }
}

// The build writes type files that the type check reads, so it comes first.
const { ensureBuilt, ensureDemo } = await import('./start.mjs')
const { ensureBrowser, ensurePdfReader, ensureQueueServer } = await import('./browser.mjs')
ensureBrowser()
ensurePdfReader()
ensureQueueServer()
ensureBuilt()
await ensureDemo()
await check([
  ['lint', bin('eslint', 'bin/eslint.js'), '.', '--max-warnings', '0'],
  ['types', bin('typescript', 'bin/tsc'), '-p', 'tsconfig.json', '--noEmit'],
])
await check([
  ['format', bin('prettier', 'bin/prettier.cjs'), '--check', '--log-level=warn', '.'],
  ['what nothing uses', bin('knip', 'bin/knip.js'), '--no-progress'],
  ['types of the core, without DOM', bin('typescript', 'bin/tsc'), '-p', 'tsconfig.core.json', '--noEmit'],
])
runTests('unit tests', 'vitest.config.ts')
runTests('browser tests', 'vitest.browser.config.ts')
console.log(`\ntests: ${passed} passed, ${failed} failed`)
process.exit(failed === 0 ? 0 : 1)

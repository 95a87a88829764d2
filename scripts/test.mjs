// `npm test`: installs what is missing, builds, lints and type-checks beside the unit tests, runs browser tests, and ends with
// one line of counts. Plain Node until the packages are there.
import { spawn } from 'node:child_process'
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

/** Runs a program of a package. @param stdout 'inherit' to print what it says at once. @returns its exit code, and else what it said. */
async function run(args, stdout = 'pipe') {
  const child = spawn(process.execPath, args, {
    cwd: root,
    stdio: ['ignore', stdout, stdout],
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
  })
  let said = ''
  for (const stream of [child.stdout, child.stderr]) stream?.on('data', (piece) => (said += piece))
  const code = await new Promise((resolve) => child.once('close', resolve))
  return { code, said }
}

/** Runs one check after another, and prints what each says when it is done. */
async function check(checks) {
  for (const [title, ...args] of checks) {
    const { code, said } = await run(args)
    console.log(`\n== ${title}\n${said.trim()}`)
    if (code === 0) passed++
    else failed++
  }
}

/** Counts tests from the runner's own report; a run that leaves none counts as one failure. */
async function runTests(title, config) {
  console.log(`\n== ${title}`)
  const report = path.join(reports, `${title.replace(/\W+/g, '-')}.json`)
  const reporters = ['--reporter=default', '--reporter=json', `--outputFile.json=${report}`]
  const { code } = await run(
    [bin('vitest', 'vitest.mjs'), 'run', '--config', config, ...reporters],
    'inherit',
  )
  try {
    const counts = JSON.parse(readFileSync(report, 'utf8'))
    passed += counts.numPassedTests
    failed += counts.numFailedTests
    const suites = counts.testResults.filter(
      (r) => r.status === 'failed' && r.assertionResults.length === 0,
    ).length
    failed += suites
    if (code !== 0 && counts.numFailedTests + suites === 0) failed++
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
// Unit tests wait at times for what they begin: what is checked besides is done meanwhile.
await Promise.all([
  check([
    ['lint', bin('eslint', 'bin/eslint.js'), '.', '--max-warnings', '0'],
    ['types', bin('typescript', 'bin/tsc'), '-p', 'tsconfig.json', '--noEmit'],
    ['types of the core, without DOM', bin('typescript', 'bin/tsc'), '-p', 'tsconfig.core.json', '--noEmit'],
    ['format', bin('prettier', 'bin/prettier.cjs'), '--check', '--log-level=warn', '.'],
    ['what nothing uses', bin('knip', 'bin/knip.js'), '--no-progress'],
  ]),
  runTests('unit tests', 'vitest.config.ts'),
])
await runTests('browser tests', 'vitest.browser.config.ts')
console.log(`\ntests: ${passed} passed, ${failed} failed`)
process.exit(failed === 0 ? 0 : 1)

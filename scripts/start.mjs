// `npm start`: installs what is missing, builds when stale, makes the demo when it is missing, serves, prints the
// address. Plain Node until the packages are there.
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { createHash } from 'node:crypto'
import { createServer } from 'node:net'
import path from 'node:path'
import { ensureInstalled, root } from './ensure-installed.mjs'

const env = { ...process.env, NEXT_TELEMETRY_DISABLED: '1' }
const next = path.join(root, 'node_modules', 'next', 'dist', 'bin', 'next')

/** A hash of everything the build is made from. */
function sourcesHash() {
  const hash = createHash('sha256')
  const visit = (file) => {
    if (statSync(file).isDirectory()) {
      for (const name of readdirSync(file).sort()) visit(path.join(file, name))
    } else if (/\.(ts|tsx|css|mjs|json)$/.test(file))
      hash.update(path.relative(root, file)).update(readFileSync(file))
  }
  for (const name of ['src', 'next.config.ts', 'tsconfig.json', 'package-lock.json'])
    visit(path.join(root, name))
  return hash.digest('hex')
}

export function ensureBuilt() {
  const stamp = path.join(root, '.next', 'built-from')
  const hash = sourcesHash()
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === hash) return
  console.log('Building the application …')
  const result = spawnSync(process.execPath, [next, 'build'], {
    cwd: root,
    env,
    stdio: ['ignore', 'inherit', 'inherit'],
  })
  if (result.status !== 0) process.exit(1)
  writeFileSync(stamp, hash)
}

/** Packs the demo project, and renders it first where a clone did not bring its passes along. */
export async function ensureDemo() {
  const { packDemo } = await import('./pack-demo.mjs')
  if (await packDemo()) return
  console.log('Rendering the demo project (some minutes, once) …')
  const result = spawnSync(process.execPath, [path.join(root, 'scripts', 'demo.mjs')], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
  })
  if (result.status !== 0 || !(await packDemo())) process.exit(1)
}

const free = (port) =>
  new Promise((resolve) => {
    const probe = createServer()
    probe.once('error', () => resolve(false))
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)))
  })

export async function serve(wanted = Number(process.env.PORT ?? 3000)) {
  let port = wanted
  while (!(await free(port))) port++
  const server = spawn(process.execPath, [next, 'start', '-H', '127.0.0.1', '-p', String(port)], {
    cwd: root,
    env,
    stdio: ['ignore', 'ignore', 'inherit'],
  })
  const address = `http://127.0.0.1:${port}`
  for (let tries = 0; tries < 240; tries++) {
    if (server.exitCode !== null) throw new Error('the server stopped')
    try {
      if ((await fetch(address)).ok) return { server, address }
    } catch {
      // Not up yet.
    }
    await new Promise((resolve) => setTimeout(resolve, 250))
  }
  server.kill()
  throw new Error('the server did not answer within a minute')
}

if (process.argv[1] && path.resolve(process.argv[1]) === import.meta.filename) {
  ensureInstalled()
  await ensureDemo()
  ensureBuilt()
  const { server, address } = await serve()
  console.log(`Muted Relief is at ${address}`)
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill())
  server.on('exit', (code) => process.exit(code ?? 0))
}

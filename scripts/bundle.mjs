// Bundles TypeScript that runs in Node (the headless command, the demo, benches) when its sources are newer.
import { existsSync, mkdirSync, readdirSync, renameSync, statSync } from 'node:fs'
import path from 'node:path'
import { pathToFileURL } from 'node:url'
import { root } from './ensure-installed.mjs'

const outFolder = path.join(root, '.build')

function newestIn(folder) {
  let newest = 0
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const full = path.join(folder, entry.name)
    if (entry.isDirectory()) newest = Math.max(newest, newestIn(full))
    else if (/\.(ts|mjs|json)$/.test(entry.name)) newest = Math.max(newest, statSync(full).mtimeMs)
  }
  return newest
}

/** Bundles one entry to `.build/{name}.mjs`. @returns its address. */
export async function bundle(entry, name) {
  const out = path.join(outFolder, `${name}.mjs`)
  const folders = ['src/core', 'src/engine', 'src/data', 'cli', 'demo', 'bench', 'tests'].map((f) =>
    path.join(root, f),
  )
  const newest = Math.max(...folders.map(newestIn))
  if (existsSync(out) && statSync(out).mtimeMs > newest) return pathToFileURL(out).href
  await bundleFrom(root, path.join(root, entry), out)
  return pathToFileURL(out).href
}

/** Packages that look for files beside their own, or that few commands need. */
const BY_FILE = [
  '@jsquash/*',
  'woff2-encoder',
  'woff2-encoder/*',
  'esbuild',
  'sharp',
  'selenium-webdriver',
  'libsql',
  'bullmq',
  'ioredis',
]
/** For packages of the older kind of modules. */
const REQUIRE = `import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);`

/** Bundles one entry against the sources of a folder; safe when several processes do so at once. */
export async function bundleFrom(folder, entry, out) {
  mkdirSync(path.dirname(out), { recursive: true })
  const { build } = await import('esbuild')
  const own = `${out}.${process.pid}.mjs`
  await build({
    entryPoints: [path.resolve(folder, entry)],
    outfile: own,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    // One file without its white space is read in a third of the time that as many files take.
    mainFields: ['module', 'main'],
    external: BY_FILE,
    minifyWhitespace: true,
    minifySyntax: true,
    banner: { js: REQUIRE },
    logLevel: 'error',
    alias: { '@': path.join(folder, 'src') },
  })
  renameSync(own, out)
}

/** The headless command and its threads. */
export async function bundleCommand() {
  await bundle('src/engine/node-worker.ts', 'node-worker')
  await bundle('src/engine/node-hand.ts', 'node-hand')
  return { commandUrl: await bundle('cli/main.ts', 'relief') }
}

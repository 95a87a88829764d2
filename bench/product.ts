import { spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { cpus, tmpdir } from 'node:os'
import path from 'node:path'
import { z } from 'zod'
import { PASS_KINDS } from '@/core/passes/registry'

/** Figures of one version on one machine, kept in the repository: what the next version is held to. */
const RELEASE = 'bench/release.json'
const releaseSchema = z.object({
  version: z.string(),
  machine: z.string(),
  /** Seconds, by what was done. */
  seconds: z.record(z.string(), z.number()),
})

const ROUNDS = 3
const DEMO = 'demo/low-water.zip'
const SIZE = ['--size', '960x600']

/** What people wait for, by the command that anyone can call: its start and the reading of its files are in it. */
const COMMANDS: Readonly<Record<string, readonly string[]>> = {
  'import, a model read and told of': ['inspect', 'demo/open-water.glb'],
  'scene, organised as GLB': ['scene', DEMO, '--out', 'OUT/scene.glb'],
  'lines, as vectors': ['lines', DEMO, '--out', 'OUT/lines.svg'],
  'sheet, composed': ['compose', DEMO, '--out', 'OUT/sheet.png'],
  'paint, an overpaint composed': ['compose', DEMO, '--sheet', 'Overpaint', '--out', 'OUT/overpaint.png'],
  'poster, as PDF': ['compose', DEMO, '--poster', 'Tide Fair', '--out', 'OUT/tide-fair.pdf'],
  'mock-up': [
    'compose',
    DEMO,
    '--poster',
    'Tide Fair/Harbour wall',
    '--size',
    '1200x900',
    '--out',
    'OUT/wall.png',
  ],
  'turntable, 8 frames': [
    'turn',
    DEMO,
    '--size',
    '480x300',
    '--quality',
    'draft',
    '--turn-frames',
    '8',
    '--out',
    'OUT/turn',
  ],
  'export, layers as OpenRaster': ['compose', DEMO, '--out', 'OUT/sheet.ora'],
  'separations, 4 parts': [
    'separate',
    DEMO,
    '--parts',
    'Roof*',
    '--quality',
    'draft',
    ...SIZE,
    '--trim',
    '--out',
    'OUT/parts',
  ],
  'recipe, hung and rendered': [
    'hang',
    'demo/fog-bell.glb',
    '--recipe',
    'night-glow',
    '--size',
    '640x400',
    '--quality',
    'draft',
    '--out',
    'OUT/night.png',
  ],
}

const reportSchema = z.object({
  build: z.object({ seconds: z.number() }).loose().optional(),
  passes: z.array(z.object({ kind: z.string(), seconds: z.number() })),
})

const middle = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[list.length >> 1]

/** Seconds of one call. @throws {Error} in its words where it fails. */
function timed(args: readonly string[], out: string): number {
  const call = args.map((arg) => arg.replace('OUT', out))
  const began = performance.now()
  // What only tells writes over nothing.
  const own = args[0] === 'inspect' ? [] : ['--overwrite']
  const { status, stderr } = spawnSync(process.execPath, ['cli/relief.mjs', ...call, ...own], {
    encoding: 'utf8',
  })
  if (status !== 0) throw new Error(`relief ${call.join(' ')}: ${stderr}`)
  return (performance.now() - began) / 1000
}

/**
 * The whole product in one table: what is waited for, and each pass of the demo at 960 × 600, good; medians of three rounds, beside the
 * figures of the last release. RELIEF_RELEASE=write keeps these as the ones of this version.
 */
export async function main(): Promise<void> {
  const out = mkdtempSync(path.join(tmpdir(), 'relief-product-'))
  const all = new Map<string, number[]>()
  const note = (name: string, seconds: number) => all.set(name, [...(all.get(name) ?? []), seconds])
  try {
    for (let round = 0; round < ROUNDS; round++) {
      for (const [name, args] of Object.entries(COMMANDS)) note(name, timed(args, out))
      const report = path.join(out, 'report.json')
      const args = ['render', DEMO, '--passes', PASS_KINDS.join(), '--quality', 'good', ...SIZE]
      note('passes, all of them, good', timed([...args, '--report', report, '--out', 'OUT/passes'], out))
      const told = reportSchema.parse(JSON.parse(readFileSync(report, 'utf8')))
      for (const { kind, seconds } of told.passes) note(`pass ${kind}, of all threads`, seconds)
    }
  } finally {
    rmSync(out, { recursive: true, force: true })
  }
  const { version } = z
    .object({ version: z.string() })
    .parse(JSON.parse(readFileSync('package.json', 'utf8')))
  const machine = `${cpus()[0].model}, ${cpus().length} threads, Node ${process.version}`
  const before = existsSync(RELEASE) ? releaseSchema.parse(JSON.parse(readFileSync(RELEASE, 'utf8'))) : null
  console.log(`machine: ${machine}; seconds, medians of ${ROUNDS}`)
  console.log(`\n| what | ${version} |${before ? ` ${before.version} | now / then |` : ''}`)
  console.log(`| --- | ---: |${before ? ' ---: | ---: |' : ''}`)
  for (const [name, list] of all) {
    const now = middle(list)
    const then = before?.seconds[name]
    const beside = before ? ` ${then?.toFixed(2) ?? ''} | ${then ? (now / then).toFixed(2) : ''} |` : ''
    console.log(`| ${name} | ${now.toFixed(2)} |${beside}`)
  }
  if (before && before.machine !== machine)
    console.log(`\nThose of ${before.version} are of ${before.machine}.`)
  if (process.env.RELIEF_RELEASE === 'write') {
    const seconds = Object.fromEntries(
      [...all].map(([name, list]) => [name, Number(middle(list).toFixed(3))]),
    )
    writeFileSync(RELEASE, `${JSON.stringify({ version, machine, seconds }, null, 2)}\n`)
  }
}

import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { describe, expect, it } from 'vitest'
import { readPassBundle } from '@/core/formats/pass-bundle'
import { ARCHIVE_ZIP, bytesSource, ZipFile } from '@/core/formats/zip-file'
import { reliefHere } from './testing/relief-here'

/** Shards of renders and separations, made apart, interrupted, gone on from and joined: the same bytes as one run. */

const folder = mkdtempSync(path.join(tmpdir(), 'relief-shards-'))
const at = (...names: string[]) => path.join(folder, ...names)
const model = at('steps.obj')
const block = (x: number, y: number, size: number, first: number) => {
  const corner = (k: number) => [x + (k & 1 ? size : 0), y + (k & 2 ? size : 0), k & 4 ? size : 0].join(' ')
  const faces = ['1 3 4 2', '5 6 8 7', '1 2 6 5', '3 7 8 4', '1 5 7 3', '2 4 8 6']
  return [
    ...Array.from({ length: 8 }, (_, k) => `v ${corner(k)}`),
    ...faces.map(
      (face) =>
        `f ${face
          .split(' ')
          .map((k) => Number(k) + first)
          .join(' ')}`,
    ),
  ]
}
writeFileSync(
  model,
  [
    'o Low',
    ...block(0, 0, 1, 0),
    'o High',
    ...block(0.6, 0.4, 1.2, 8),
    'o Far',
    ...block(-2, 0, 0.8, 16),
  ].join('\n'),
)
const VIEW = ['--size', '300x200', '--view', '-30,20', '--samples', '2', '--rays', '4']
const RENDER = ['render', model, '--passes', 'clay,occlusion,contour,depth,id,lit', ...VIEW]
const SEPARATE = ['separate', model, '--sets', 'all', '--shadows', '--trim', ...VIEW]

const run = (...args: string[]) => {
  const { status, stderr } = reliefHere(...args)
  expect([status, stderr]).toEqual([0, ''])
}
const refused = (...args: string[]): string => {
  const { status, stderr } = reliefHere(...args)
  expect(status).toBeGreaterThan(0)
  return stderr
}
const bytesIn = (name: string) =>
  Object.fromEntries(
    readdirSync(at(name))
      .sort()
      .map((file) => [file, readFileSync(at(name, file)).toString('base64')]),
  )
const shards = (args: readonly string[], name: string, count: number, order = [...Array(count).keys()]) => {
  for (const i of order) run(...args, '--shard', `${i + 1}/${count}`, '--out', at(`${name}${i + 1}`))
  return Array.from({ length: count }, (_, i) => at(`${name}${i + 1}`))
}

describe('shards of a render', () => {
  it.each(['png', 'exr'])('joined are the bytes of one run, as %s', (format) => {
    const args = [...RENDER, '--format', format]
    run(...args, '--out', at(`one-${format}`))
    const made = shards(args, `r-${format}-`, 4, [2, 0, 3, 1])
    run('join', ...made, '--out', at(`joined-${format}`))
    expect(bytesIn(`joined-${format}`)).toEqual(bytesIn(`one-${format}`))
    expect(Object.keys(bytesIn(`joined-${format}`))).toHaveLength(6)
  })
  it('joined are the passes of one run with all that is told of them, as bundles', async () => {
    const args = [...RENDER, '--format', 'bundle', '--quality', 'draft']
    run(...args, '--out', at('one-bundle'))
    const made = shards(args, 'r-bundle-', 3)
    // What is gone on from counts what it took before.
    run(...args, '--shard', '1/3', '--out', made[0], '--resume')
    run('join', ...made, '--out', at('joined-bundle'))
    const files = readdirSync(at('one-bundle'))
    const rays = new Map<string, number>()
    expect(files).toHaveLength(6)
    for (const file of files) {
      const [one, joined] = await Promise.all(
        ['one-bundle', 'joined-bundle'].map(async (name) => {
          const bytes = new Uint8Array(readFileSync(at(name, file)))
          return readPassBundle(await ZipFile.open(bytesSource(bytes), file, ARCHIVE_ZIP), file)
        }),
      )
      expect(joined.result).toEqual(one.result)
      expect(joined.cost.rays).toBe(one.cost.rays)
      rays.set(file, one.cost.rays)
    }
    expect(rays.get('view_occlusion.zip')).toBeGreaterThan(10_000)
  })
  it('each render their own blocks alone', () => {
    const blocks = Array.from({ length: 4 }, (_, i) =>
      readdirSync(at(`r-png-${i + 1}`)).filter((file) => file.startsWith('0_')),
    )
    // 300 × 200 in blocks of 128: three by two.
    expect(blocks.map((own) => own.length)).toEqual([2, 2, 1, 1])
    expect(new Set(blocks.flat()).size).toBe(6)
  })
  it('go on from what is there, and say so where they are not asked to', () => {
    const out = at('r-png-1')
    const args = [...RENDER, '--shard', '1/4', '--out', out]
    expect(refused(...args)).toMatch(/holds this shard: --resume goes on/)
    expect(refused(...RENDER, '--samples', '3', '--shard', '1/4', '--out', out, '--resume')).toMatch(
      /holds a shard of something else/,
    )
    const [first, second] = readdirSync(out).filter((file) => /^1_/.test(file))
    const before = statSync(path.join(out, second)).mtimeMs
    rmSync(path.join(out, first))
    run(...args, '--resume')
    expect(statSync(path.join(out, second)).mtimeMs).toBe(before)
    run('join', ...[1, 2, 3, 4].map((i) => at(`r-png-${i}`)), '--out', at('again'))
    expect(bytesIn('again')).toEqual(bytesIn('one-png'))
  })
  it('are not joined where some are missing, or are of something else', () => {
    expect(refused('join', at('r-png-1'), at('r-png-2'), '--out', at('half'))).toMatch(
      /2 of 6 blocks of .+ are missing/,
    )
    expect(refused('join', at('r-png-1'), at('r-exr-2'), '--out', at('half'))).toMatch(
      /r-exr-2: is of something else than .*r-png-1/,
    )
    expect(readdirSync(folder)).not.toContain('half')
    writeFileSync(at('r-exr-2', 'shard.json'), '{"kind":"render shard","version":1')
    expect(refused('join', at('r-exr-1'), at('r-exr-2'), '--out', at('half'))).toMatch(
      /r-exr-2.shard\.json: cannot be parsed/,
    )
  })
  it('write nothing outside, whatever a manifest names', () => {
    const told = JSON.parse(readFileSync(at('r-png-1', 'shard.json'), 'utf8')) as {
      passes: { file: string }[]
    }
    for (const file of ['../out.png', '/tmp/out.png', 'a/../../out.png', 'C:out.png', 'a\\..\\out.png']) {
      told.passes[0].file = file
      mkdirSync(at('hostile'), { recursive: true })
      writeFileSync(at('hostile', 'shard.json'), JSON.stringify(told))
      expect(refused('join', at('hostile'), '--out', at('none'))).toMatch(
        /passes\.0\.file: leads out of its folder/,
      )
    }
  })
  it('may be more than there are blocks', () => {
    const args = ['render', model, '--passes', 'depth', '--size', '64x64', '--samples', '1']
    run('join', ...shards(args, 'few-', 3), '--out', at('few'))
    run(...args, '--out', at('few-one'))
    expect(bytesIn('few')).toEqual(bytesIn('few-one'))
  })
  it('neither smooth nor report', () => {
    expect(refused(...RENDER, '--denoise', '--shard', '1/2', '--out', at('no'))).toMatch(/--denoise/)
    expect(refused(...RENDER, '--shard', '3/2', '--out', at('no'))).toMatch(/--shard takes I\/N/)
    expect(refused(...RENDER, '--resume', '--out', at('no'))).toMatch(/--resume goes with --shard/)
  })
})

describe('shards of a separation', () => {
  it('joined are the bytes of one run, checked like it', () => {
    run(...SEPARATE, '--out', at('s-one'))
    const made = shards(SEPARATE, 's', 2, [1, 0])
    run('join', ...made, '--out', at('s-joined'))
    expect(bytesIn('s-joined')).toEqual(bytesIn('s-one'))
    expect(Object.keys(bytesIn('s-joined'))).toHaveLength(7)
  })
  it('go on from what is there', () => {
    const args = [...SEPARATE, '--shard', '1/2', '--out', at('s1')]
    expect(refused(...args)).toMatch(/holds this shard/)
    const [first] = readdirSync(at('s1')).filter((file) => file.endsWith('_shadow.png'))
    rmSync(at('s1', first))
    run(...args, '--resume')
    run('join', at('s1'), at('s2'), '--out', at('s-again'))
    expect(bytesIn('s-again')).toEqual(bytesIn('s-one'))
  })
  it('are not joined where one is missing', () => {
    expect(refused('join', at('s2'), '--out', at('s-half'))).toMatch(/2 of 3 sets are missing/)
  })
})

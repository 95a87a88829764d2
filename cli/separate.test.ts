// One file: one scene, separated in every way and put together again.
import { existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { separationManifestSchema, type SeparationManifest } from '@/core/separate/separation-manifest'
import { atlasManifestSchema } from '@/core/separate/atlas'
import { backdropManifestSchema } from '@/core/separate/backdrop'
import { reliefHere } from './testing/relief-here'

/** `relief separate`, its pictures opened and laid over each other by another reader. */

const folder = mkdtempSync(path.join(tmpdir(), 'relief-separate-'))
const at = (...names: string[]) => path.join(folder, ...names)
/** Boards from corner to corner, and their colours. */
const model = (name: string, boards: readonly { name: string; at: number[][]; kd: string }[]): string => {
  const lines = [`mtllib ${name}.mtl`]
  boards.forEach((board, b) => {
    lines.push(`o ${board.name}`, `usemtl m${b}`, ...board.at.map((p) => `v ${p.join(' ')}`))
    lines.push(`f ${board.at.map((_, k) => 4 * b + k + 1).join(' ')}`)
  })
  writeFileSync(at(`${name}.obj`), lines.join('\n') + '\n')
  writeFileSync(at(`${name}.mtl`), boards.map(({ kd }, b) => `newmtl m${b}\nKd ${kd}\n`).join(''))
  return at(`${name}.obj`)
}
/** An upright board before the camera, half as wide as high numbers say. */
const board = (x: number, y: number, z: number, half: number) => [
  [x - half, y - half, z],
  [x + half, y - half, z],
  [x + half, y + half, z],
  [x - half, y + half, z],
]
const stack = model('stack', [
  { name: 'Back wall', at: board(0, 0, -2, 3), kd: '0.2 0.4 0.8' },
  { name: 'Rail / left', at: board(-0.6, 0, 0, 0.8), kd: '0.9 0.3 0.1' },
  { name: 'Rail / right', at: board(0.6, 0.3, 1, 0.8), kd: '0.2 0.8 0.3' },
])
const FRONT = ['--eye', '0,0,9', '--target', '0,0,0', '--fov', '40', '--size', '96x80']

const run = (...args: string[]) => {
  const { status, stdout, stderr } = reliefHere('separate', ...args)
  expect([status, stderr, stdout]).toEqual([0, '', ''])
}
const manifestOf = (name: string): SeparationManifest =>
  separationManifestSchema.parse(JSON.parse(readFileSync(at(name, 'manifest.json'), 'utf8')))
const pixels = async (file: string) => {
  const { data, info } = await sharp(file).ensureAlpha().raw().toBuffer({ resolveWithObject: true })
  return { data, ...info }
}
/** Lays the pictures of a folder over each other from the back, where the manifest says. */
const together = async (name: string) => {
  const { sets, size } = manifestOf(name)
  const { data } = await sharp({
    create: { ...size, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } },
  })
    .composite([...sets].reverse().map(({ file, x, y }) => ({ input: at(name, file), left: x, top: y })))
    .raw()
    .toBuffer({ resolveWithObject: true })
  return data
}

describe('relief separate', () => {
  it('gives every part whole, in order, trimmed, and together they are the picture', async () => {
    run(stack, ...FRONT, '--sets', 'all', '--out', at('whole'), '--whole', '--trim', '--shadows')
    const { sets, size, difference, cycles } = manifestOf('whole')
    expect(size).toEqual({ width: 96, height: 80 })
    expect(sets.map(({ name, order }) => [name, order])).toEqual([
      ['Rail / right', 0],
      ['Rail / left', 1],
      ['Back wall', 2],
    ])
    expect(sets.map(({ depth }) => Math.round(depth ?? 0))).toEqual([8, 9, 11])
    expect(cycles).toEqual([])
    expect(difference).toBeLessThan(1 / 255)
    expect(readdirSync(at('whole')).sort()).toEqual(
      ['manifest.json', ...sets.flatMap(({ file, shadow }) => [file, shadow ?? ''])].sort(),
    )
    for (const { file, width, height } of sets) {
      const picture = await pixels(at('whole', file))
      expect([picture.width, picture.height]).toEqual([width, height])
    }
    // The left rail is whole: a square as high as wide, though the right one stands before it.
    const [, left] = sets
    const { data } = await pixels(at('whole', left.file))
    expect(Math.abs(left.width - left.height)).toBeLessThanOrEqual(1)
    const middle = 4 * (Math.floor(left.height / 2) * left.width + Math.floor(left.width / 2))
    expect(data[middle + 3]).toBe(255)
    // What another reader makes of them is the picture that `relief render` gives.
    const rendered = ['--passes', 'lit', '--out', at('lit'), '--name', 'lit', '--samples', '8', '--rays', '4']
    expect(reliefHere('render', stack, ...FRONT, ...rendered).status).toBe(0)
    const whole = await pixels(at('lit', 'lit.png'))
    const laid = await together('whole')
    const off = whole.data.reduce((sum, v, i) => sum + Math.abs(v - laid[i]), 0) / whole.data.length
    expect(off).toBeLessThan(1)
  })
  it('gives what is seen alone, and a shadow that one set throws by itself', async () => {
    const settings = ['--set', 'shadow.density=1']
    run(stack, ...FRONT, '--out', at('seen'), '--seen', '--shadows', ...settings)
    const { sets, difference, how } = manifestOf('seen')
    expect(how).toBe('seen')
    expect(difference).toBeLessThan(1e-3)
    const alphas = await Promise.all(sets.map(async ({ file }) => (await pixels(at('seen', file))).data))
    // No pixel is held by two.
    for (let i = 3; i < alphas[0].length; i += 4)
      expect(alphas.reduce((sum, data) => sum + data[i], 0)).toBeLessThanOrEqual(256)
    // The wall is the hindmost: it throws no shadow on what stands before it; the rails do, on it and beneath themselves.
    const darkest = async (file: string | null) =>
      Math.max(...(await pixels(at('seen', file ?? ''))).data.filter((_, i) => i % 4 === 3))
    expect(await darkest(sets[2].shadow)).toBeLessThan(40)
    expect(await darkest(sets[0].shadow)).toBeGreaterThan(60)
  })
  it('names what hides each other in a ring, and cuts it', async () => {
    // Each leans: its left end lies before the next, its right end behind the one before.
    const turned = (degrees: number) => {
      const angle = (degrees * Math.PI) / 180
      const place = (along: number, aside: number, z: number) => [
        0.9 * Math.cos(angle) + along * -Math.sin(angle) + aside * Math.cos(angle),
        0.9 * Math.sin(angle) + along * Math.cos(angle) + aside * Math.sin(angle),
        z,
      ]
      return [place(-2.4, -0.4, -0.6), place(2.4, -0.4, 0.6), place(2.4, 0.4, 0.6), place(-2.4, 0.4, -0.6)]
    }
    const ring = model('ring', [
      { name: 'A', at: turned(0), kd: '0.9 0.1 0.1' },
      { name: 'B', at: turned(120), kd: '0.1 0.9 0.1' },
      { name: 'C', at: turned(240), kd: '0.1 0.1 0.9' },
    ])
    run(ring, ...FRONT, '--sets', 'all', '--out', at('ring'))
    const { sets, cycles, difference } = manifestOf('ring')
    expect(cycles).toHaveLength(1)
    expect([...cycles[0]].sort()).toEqual(['A', 'B', 'C'])
    expect(sets.filter(({ cutBy }) => cutBy.length > 0).map(({ cutBy }) => cutBy)).toEqual([[sets[2].name]])
    expect(difference).toBeLessThan(1 / 255)
  })
  it('takes numbers and names', () => {
    run(stack, ...FRONT, '--sets', '1,3', '--out', at('numbers'), '--quality', 'draft')
    expect(manifestOf('numbers').sets.map(({ name }) => name)).toEqual(['Rail / right', 'Back wall'])
    run(
      stack,
      ...FRONT,
      '--parts',
      'rail*',
      '--out',
      at('names'),
      '--pass',
      'clay',
      '--name',
      'n{number}_{set}',
    )
    const { sets, pass } = manifestOf('names')
    expect(pass).toBe('clay')
    expect(sets.map(({ file }) => file)).toEqual(['n2_Rail _ right.png', 'n1_Rail _ left.png'])
    expect(sets.every(({ shadow, shadowAt }) => shadow === null && shadowAt === null)).toBe(true)
  })
  it('gives what is of one material, also of parts that have several', async () => {
    const lines = ['mtllib two.mtl', 'o Sign', ...board(0, 0, 0, 1).map((p) => `v ${p.join(' ')}`)]
    lines.push('usemtl red', 'f 1 2 3', 'usemtl blue', 'f 1 3 4', 'o Post')
    lines.push(...board(0, -2, 0, 0.5).map((p) => `v ${p.join(' ')}`), 'usemtl blue', 'f 5 6 7 8')
    writeFileSync(at('two.obj'), lines.join('\n') + '\n')
    writeFileSync(at('two.mtl'), 'newmtl red\nKd 0.9 0.1 0.1\nnewmtl blue\nKd 0.1 0.1 0.9\n')
    run(
      at('two.obj'),
      ...FRONT,
      '--sets',
      'all',
      '--each',
      'material',
      '--out',
      at('materials'),
      '--pass',
      'flat',
    )
    const { sets, difference } = manifestOf('materials')
    expect(sets.map(({ name, parts }) => [name, parts]).sort()).toEqual([
      ['blue', ['Sign', 'Post']],
      ['red', ['Sign']],
    ])
    expect(difference).toBeLessThan(1 / 255)
    // Nothing of the other colour is in either.
    for (const { name, file } of sets) {
      const { data } = await pixels(at('materials', file))
      const [strong, weak] = name === 'red' ? [0, 2] : [2, 0]
      let seen = 0
      for (let i = 0; i < data.length; i += 4) {
        if (data[i + 3] < 255) continue
        expect(data[i + strong]).toBeGreaterThan(data[i + weak])
        seen++
      }
      expect(seen).toBeGreaterThan(200)
    }
  })
  it('gives parts of one name, and names that are none, files of their own within the folder', () => {
    const same = model('same', [
      { name: '../../up', at: board(-1, 0, 0, 0.5), kd: '1 1 1' },
      { name: '../../UP', at: board(1, 0, 0, 0.5), kd: '1 1 1' },
      { name: 'manifest', at: board(0, 1, 0, 0.3), kd: '1 1 1' },
    ])
    run(same, ...FRONT, '--out', at('same'), '--quality', 'draft', '--trim')
    const files = manifestOf('same').sets.map(({ file }) => file)
    expect(new Set(files.map((file) => file.toLowerCase())).size).toBe(3)
    for (const file of files) expect(existsSync(at('same', path.basename(file)))).toBe(true)
    expect(existsSync(path.join(folder, '..', 'up.png'))).toBe(false)
  })
  it('gives what the ground mirrors of a part, in the demo', async () => {
    const demo = path.resolve('demo/low-water.zip')
    const parts = ['--parts', 'piles, dinghy planking', '--size', '200x125', '--quality', 'draft', '--trim']
    run(demo, ...parts, '--reflections', '--out', at('mirrored'), '--set', 'reflection.strength=1')
    const { sets } = manifestOf('mirrored')
    expect(sets).toHaveLength(2)
    for (const { reflection, reflectionAt, x, y, height, width } of sets) {
      const { data, ...info } = await pixels(at('mirrored', reflection ?? ''))
      expect([info.width, info.height]).toEqual([reflectionAt?.width, reflectionAt?.height])
      expect(Math.max(...data.filter((_, i) => i % 4 === 3))).toBeGreaterThan(80)
      // It lies below what it is of, and beneath it.
      const box = reflectionAt ?? { x: 0, y: 0, width: 0, height: 0 }
      expect(box.y + box.height).toBeGreaterThan(y + height)
      expect(Math.abs(box.x + box.width / 2 - x - width / 2)).toBeLessThan(width)
    }
  })
  it('packs parts and their shadows onto pages, at every scale, each as large and where it is told', async () => {
    run(stack, ...FRONT, '--shadows', '--out', at('apart'), '--trim', '--quality', 'draft')
    run(
      stack,
      ...FRONT,
      '--shadows',
      '--out',
      at('atlas'),
      '--quality',
      'draft',
      '--atlas',
      '256',
      '--scales',
      '1,2',
    )
    for (const scale of [1, 2]) {
      const folder = at('atlas', `${scale}x`)
      const atlas = atlasManifestSchema.parse(
        JSON.parse(readFileSync(path.join(folder, 'atlas.json'), 'utf8')),
      )
      expect([atlas.scale, atlas.size]).toEqual([scale, { width: 96 * scale, height: 80 * scale }])
      expect(atlas.pictures.map(({ name, shows }) => `${name} ${shows}`)).toEqual([
        'Rail / right set',
        'Rail / right shadow',
        'Rail / left set',
        'Rail / left shadow',
        'Back wall set',
        'Back wall shadow',
      ])
      for (const { pivot } of atlas.pictures.slice(-2)) {
        // It stands in the middle of the view.
        expect(pivot?.x).toBeCloseTo(48 * scale, 1)
        expect(pivot?.y).toBeCloseTo(40 * scale, 1)
      }
      const { sets } = manifestOf(path.join('atlas', `${scale}x`))
      expect(new Set(sets.flatMap(({ file, shadow }) => [file, shadow]))).toEqual(
        new Set(atlas.pages.map(({ file }) => file)),
      )
      expect(readdirSync(folder).sort()).toEqual(
        ['atlas.json', ...atlas.pages.map(({ file }) => file), 'manifest.json'].sort(),
      )
      if (scale > 1) continue
      // What is cut from a page by another reader is the picture itself, where it is seen.
      for (const { name, x, y, width, height, page, shows } of atlas.pictures) {
        if (shows !== 'set') continue
        const input = sharp(path.join(folder, atlas.pages[page].file)).extract({
          left: x,
          top: y,
          width,
          height,
        })
        const { data } = await input.raw().toBuffer({ resolveWithObject: true })
        const own = manifestOf('apart').sets.find((set) => set.name === name)
        const alone = await pixels(at('apart', own?.file ?? ''))
        expect([width, height]).toEqual([alone.width, alone.height])
        for (let i = 0; i < data.length; i += 4)
          if (alone.data[i + 3] > 0)
            expect([...data.subarray(i, i + 4)]).toEqual([...alone.data.subarray(i, i + 4)])
      }
    }
  })
  it('takes the ground apart, so that its pictures laid together by another are the whole', async () => {
    const lines = [
      'mtllib stage.mtl',
      'o Floor',
      'v -4 0 -4',
      'v 4 0 -4',
      'v 4 0 4',
      'v -4 0 4',
      'usemtl floor',
      'f 4 3 2 1',
      'o Box',
    ]
    for (const y of [0, 1.2])
      for (const [x, z] of [
        [-0.6, -0.6],
        [0.6, -0.6],
        [0.6, 0.6],
        [-0.6, 0.6],
      ])
        lines.push(`v ${x} ${y} ${z}`)
    lines.push('usemtl box', 'f 9 12 11 10', 'f 5 9 10 6', 'f 6 10 11 7', 'f 7 11 12 8', 'f 8 12 9 5')
    writeFileSync(at('stage.obj'), lines.join('\n') + '\n')
    writeFileSync(at('stage.mtl'), 'newmtl floor\nKd 0.6 0.5 0.4\nnewmtl box\nKd 0.2 0.3 0.7\n')
    const view = ['--view', '-30,25', '--size', '120x90', '--quality', 'draft']
    run(at('stage.obj'), ...view, '--ground', 'Floor', '--out', at('stage'), '--backdrop')
    const told = backdropManifestSchema.parse(JSON.parse(readFileSync(at('stage', 'backdrop.json'), 'utf8')))
    expect(told.difference).toBeLessThan(1 / 255)
    expect(told.pictures.map(({ shows, mode }) => `${shows} ${mode}`)).toEqual([
      'ground normal',
      'shadow multiply',
      'occlusion multiply',
      'reflection plus-lighter',
      'subject normal',
    ])
    const of = (name: string) => pixels(at('stage', `${name}.png`))
    const [ground, shadow, occlusion, subject] = await Promise.all(
      ['ground', 'shadow', 'occlusion', 'subject'].map(of),
    )
    const darker = (own: typeof ground) =>
      own.data.filter((v, i) => i % 4 === 0 && own.data[i + 3] > 0 && v < 230).length
    expect(darker(shadow)).toBeGreaterThan(100)
    expect(darker(occlusion)).toBeGreaterThan(50)
    // The ground is whole beneath what stands on it, and bare of its shadow.
    let beneath = 0
    for (let i = 0; i < ground.data.length; i += 4)
      if (subject.data[i + 3] === 255 && ground.data[i + 3] === 255) beneath++
    expect(beneath).toBeGreaterThan(200)
    // Laid together by another reader, on an opaque sheet: as the whole on the same sheet.
    const paper = {
      create: {
        width: 120,
        height: 90,
        channels: 4 as const,
        background: { r: 240, g: 230, b: 210, alpha: 1 },
      },
    }
    const blends = { normal: 'over', multiply: 'multiply', 'plus-lighter': 'add' } as const
    const { data: laid } = await sharp(paper)
      .composite(told.pictures.map(({ file, mode }) => ({ input: at('stage', file), blend: blends[mode] })))
      .raw()
      .toBuffer({ resolveWithObject: true })
    expect(
      reliefHere(
        'render',
        at('stage.obj'),
        '--view',
        '-30,25',
        '--size',
        '120x90',
        '--ground',
        'Floor',
        '--passes',
        'lit',
        '--samples',
        '4',
        '--rays',
        '2',
        '--out',
        at('stage-whole'),
      ).stderr,
    ).toBe('')
    const { data: whole } = await sharp(paper)
      .composite([{ input: at('stage-whole', 'view_lit.png') }])
      .raw()
      .toBuffer({ resolveWithObject: true })
    let off = 0
    for (let i = 0; i < whole.length; i++) off += Math.abs(laid[i] - whole[i])
    expect(off / whole.length).toBeLessThan(1.5)
  })
  it('gives the same files again, on one thread or two', () => {
    for (const threads of ['1', '2'])
      run(
        stack,
        ...FRONT,
        '--out',
        at(`t${threads}`),
        '--threads',
        threads,
        '--shadows',
        '--quality',
        'draft',
      )
    for (const file of readdirSync(at('t1')))
      expect(readFileSync(at('t1', file)).equals(readFileSync(at('t2', file)))).toBe(true)
  })
  it.each([
    [['--sets', '1,9'], 2, /sets must be all, or numbers and ranges within 1-3/],
    [['--parts', 'mast'], 2, /fits no part; there are Back wall, Rail \/ left, Rail \/ right/],
    [['--sets', 'all', '--parts', 'rail*'], 2, /cannot be asked for together/],
    [['--whole', '--seen'], 2, /cannot be asked for together/],
    [['--pass', 'gloss'], 2, /there is no pass "gloss"/],
    [['--bleed', '1'], 2, /--padding and --bleed go with --atlas/],
    [['--atlas', '32'], 2, /--atlas takes a whole number from 64 to 8192/],
    [
      ['--atlas', '64', '--quality', 'draft', '--size', '192x160'],
      1,
      /atlas takes pictures up to 60 pixels a side, but Back wall/,
    ],
    [['--scales', '1,1'], 2, /--scales names one twice/],
    [['--scales', '2', '--atlas', '256', '--shard', '1/2'], 2, /--shard goes neither/],
    [['--backdrop'], 2, /--backdrop wants a part that is the ground/],
    [['--backdrop', '--shadows'], 2, /it goes with none of these/],
    [['--each', 'colour'], 2, /--each takes part, group, material/],
    [['--quality', 'best'], 2, /--quality takes draft, good, final/],
  ])('refuses %j', (args, code, words) => {
    const { status, stderr } = reliefHere('separate', stack, ...FRONT, '--out', at('no'), ...args)
    expect(status).toBe(code)
    expect(stderr).toMatch(words)
    expect(existsSync(at('no'))).toBe(false)
  })
  it('overwrites nothing that is there unasked', () => {
    const { status, stderr } = reliefHere('separate', stack, ...FRONT, '--out', at('numbers'))
    expect(status).toBe(1)
    expect(stderr).toMatch(/manifest\.json.*is already there; give --overwrite/)
  })
})

// One file: the commands are called in the order in which one goes on from another’s files.
import { spawn } from 'node:child_process'
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { describe, expect, it } from 'vitest'
import { encode as encodeJpeg } from 'jpeg-js'
import { exrValues, readExr, writeExr } from '@/core/formats/exr'
import { readPng, writePng } from '@/core/formats/png'
import { contentName } from '@/core/content-name'
import { inBlocks, TILE_PIXELS } from '@/core/picture/tile-form'
import { newLayer } from '@/core/sheet/new-layer'
import { newProject, newSheet } from '@/data/new-project'
import { writeProjectArchive } from '@/data/project-archive'
import { testModel } from '@/data/testing/fixtures'
import { reliefHere } from './testing/relief-here'

const root = path.resolve(import.meta.dirname, '..')
const folder = mkdtempSync(path.join(tmpdir(), 'relief-cli-'))
const put = (name: string, content: string | Uint8Array): string => {
  const full = path.join(folder, name)
  writeFileSync(full, content)
  return full
}
const relief = reliefHere

const plate = put(
  'plate.obj',
  'mtllib plate.mtl\no Plate\nusemtl Tin\nv -1 0 1\nv 1 0 1\nv 1 0 -1\nv -1 0 -1\nf 1 2 3 4\no Lid\nv -1 0.5 1\nv 1 0.5 1\nv 1 0.5 -1\nv -1 0.5 -1\nf 5 6 7 8\n',
)
put('plate.mtl', 'newmtl Tin\nKd 0.2 0.2 0.2\n')
const bad = put('bad.obj', 'nothing in here')

describe('relief inspect', () => {
  it('prints the promised shape and nothing else', () => {
    const { status, stdout, stderr } = relief('inspect', plate)
    expect([status, stderr]).toEqual([0, ''])
    const report = JSON.parse(stdout)
    expect(report).toMatchObject({
      files: [plate],
      parts: [
        { name: 'Plate', polygons: 1, triangles: 2, materials: ['Tin'] },
        { name: 'Lid', polygons: 1, triangles: 2, materials: ['Tin'] },
      ],
      materials: ['Tin'],
      vertices: 8,
      triangles: 4,
      edges: 8,
      polygons: { 3: 0, 4: 2, more: 0 },
      bounds: { min: [-1, 0, -1], max: [1, 0.5, 1] },
    })
  })
  it('fails with one clear line and code 1, or 2 for wrong use', () => {
    const one = relief('inspect', bad)
    expect(one.status).toBe(1)
    expect(one.stderr.trim().split('\n')).toEqual([`relief inspect: ${bad}: holds no usable polygon`])
    expect(relief('inspect', path.join(folder, 'none.obj')).stderr).toContain('there is no such file')
    expect([relief('inspect').status, relief('paint').status, relief().status]).toEqual([2, 2, 2])
  })
})

describe('relief render', () => {
  const out = path.join(folder, 'out')
  const base = [
    'render',
    plate,
    '--size',
    '32x24',
    '--eye',
    '0,10,0',
    '--target',
    '0,0,0',
    '--ortho',
    '1',
    '--only',
    'Plate',
    '--out',
    out,
  ]
  it('writes raw channels: reach in world units or figure diagonals; names by the pattern', () => {
    const report = path.join(folder, 'report.json')
    const run = relief(
      ...base,
      '--passes',
      'occlusion,cavity,id',
      '--unseen',
      'Lid',
      '--format',
      'exr',
      '--name',
      '{pass}',
      '--set',
      'occlusion.reach=0.6',
      '--samples',
      '4',
      '--rays',
      '64',
      '--threads',
      '2',
      '--report',
      report,
    )
    expect([run.status, run.stdout, run.stderr]).toEqual([0, '', ''])
    expect(readdirSync(out).sort()).toEqual(['cavity.exr', 'id.exr', 'occlusion.exr'])
    const exr = readExr(new Uint8Array(readFileSync(path.join(out, 'occlusion.exr'))), 'occlusion.exr')
    expect(exr.channels.map((c) => c.name)).toEqual(['A', 'V', 'V2', 'V4', 'V8'])
    const mean = (name: string) => {
      const channel = exr.channels.find((c) => c.name === name)
      const values = channel ? exrValues(channel) : new Float32Array()
      return values.reduce((a, b) => a + b, 0) / values.length
    }
    // A lid at 0.5 within a reach of 0.6 blocks cos θ > 0.5/0.6: open is (0.5/0.6)².
    expect(mean('V')).toBeCloseTo((0.5 / 0.6) ** 2, 1)
    expect(mean('V2')).toBe(1)
    const figures = JSON.parse(readFileSync(report, 'utf8'))
    expect(figures).toMatchObject({ threads: 2, build: { triangles: 4 } })
    expect(figures.passes.map((p: { kind: string }) => p.kind)).toEqual(['occlusion', 'cavity', 'id'])
    for (const p of figures.passes)
      for (const key of ['rays', 'seconds', 'samples']) expect(p[key]).toBeGreaterThan(0)
  })
  it('gives the same bytes on one thread and on two, and replaces nothing unasked', () => {
    for (const threads of ['1', '2']) {
      expect(relief(...base, '--passes', 'clay', '--threads', threads, '--name', `t${threads}`).status).toBe(
        0,
      )
    }
    expect(readFileSync(path.join(out, 't1.png')).equals(readFileSync(path.join(out, 't2.png')))).toBe(true)
    const again = relief(...base, '--passes', 'clay', '--name', 't1')
    expect([again.status, again.stderr.includes('is already there')]).toEqual([1, true])
    expect(relief(...base, '--passes', 'clay', '--name', 't1', '--overwrite').status).toBe(0)
    expect(readdirSync(out).some((name) => name.includes('partial'))).toBe(false)
  })
  it('gives lines as pictures in a style, their coverage as A, and no rays for what is a look', () => {
    const view = ['--size', '160x120', '--view', '30,30', '--out', out]
    const lines = ['render', plate, ...view, '--passes', 'contour', '--format', 'exr', '--overwrite']
    const inked = (name: string, ...more: string[]) => {
      expect(relief(...lines, '--name', name, ...more).status).toBe(0)
      const file = `${name}.exr`
      const { channels } = readExr(new Uint8Array(readFileSync(path.join(out, file))), file)
      expect(channels.map((c) => c.name)).toEqual(['A'])
      return exrValues(channels[0]).reduce((sum, v) => sum + v, 0)
    }
    const plain = inked('plain')
    const felt = inked('felt', '--set', 'contour.style=felt')
    const broad = inked('broad', '--set', 'contour.style=felt', '--set', 'contour.weight=12')
    expect(plain).toBeGreaterThan(0)
    expect(felt).toBeGreaterThan(1.4 * plain)
    expect(broad).toBeGreaterThan(2.5 * felt)
  })
  it.each([
    [
      ['--passes', 'contour', '--set', 'contour.style=crayon'],
      'contour has no style "crayon"; it has technical',
    ],
    [['--passes', 'sparkle'], 'there is no pass "sparkle"'],
    [['--passes', 'occlusion', '--set', 'occlusion.reach=-2'], 'occlusion.reach'],
    [['--passes', 'occlusion', '--set', 'occlusion.range=2'], 'has no parameter "range"'],
    [['--passes', 'clay', '--samples', '0'], '--samples takes a whole number'],
    [['--passes', 'clay,id', '--name', 'same'], 'gives two passes the same file'],
    [['--passes', 'clay', '--only', 'Nobody'], 'there is no part "Nobody"'],
    [['--passes', 'clay', '--wrong'], '--wrong'],
    [
      ['--passes', 'clay', '--samples', '100000'],
      '--samples takes a whole number from 1 to 4096 (got "100000")',
    ],
    [['--passes', 'clay', '--rays', '1e9'], '--rays takes a whole number from 1 to 4096 (got "1e9")'],
    [['--passes', 'clay', '--threads', '0'], '--threads takes a whole number from 1 to 256 (got "0")'],
    [['--passes', 'clay', '--seed', '-1'], '--seed takes a whole number from 0 to 4294967295'],
    [['--passes', 'clay', '--name', ''], '--name takes a file name'],
    [['--passes', 'clay', '--name', '../up'], '--name takes a file name'],
    [['--passes', 'clay', '--name', '/tmp/x'], '--name takes a file name'],
    [['--passes', 'clay', '--name', 'a//b'], '--name takes a file name'],
  ])('refuses %j as wrong use', (args, words) => {
    const run = relief(...base, ...args)
    expect([run.status, run.stderr.includes(words)]).toEqual([2, true])
  })
})

describe('what relief writes', () => {
  /** A project whose names would lead out of any folder. */
  const archive = async (): Promise<string> => {
    const project = newProject('../../project')
    project.shots[0].name = '../../../shot/../x'
    const [part] = testModel().parts
    project.models = [
      testModel({
        parts: [part, { ...part, key: 'm/1', name: 'Lid' }],
        source: { type: 'file', entry: 'plate.obj', files: [{ name: 'plate.obj', fileId: 'f' }] },
      }),
    ]
    const bytes = new Uint8Array(readFileSync(plate))
    const files = new Map([['f', { name: 'plate.obj', bytes }]])
    return put('names.zip', await writeProjectArchive({ project, files, results: new Map() }))
  }
  it('lies below --out, whatever a shot or a project is called', async () => {
    const project = await archive()
    const inside = path.join(folder, 'deep', 'er')
    const args = ['render', project, '--passes', 'depth', '--size', '16x16', '--out', inside]
    expect(relief(...args).stderr).toBe('')
    expect(relief(...args, '--name', '{project}/{shot}/{pass}').stderr).toBe('')
    expect(readdirSync(folder).filter((name) => /shot|project/.test(name))).toEqual([])
    expect(readdirSync(inside).sort()).toEqual(['_.._project', '_.._.._shot_.._x_depth.png'].sort())
    expect(readdirSync(path.join(inside, '_.._project', '_.._.._shot_.._x'))).toEqual(['depth.png'])
  })
  it('is named after the pass where a project has two lightings of one kind, each lit by its own rig', async () => {
    const project = newProject('Two')
    const [rig] = project.rigs
    const dark = {
      ...rig,
      id: 'dark',
      lights: rig.lights.map((light) => ({ ...light, strength: 0, on: false })),
    }
    project.rigs.push(dark)
    project.models = [
      testModel({
        parts: [testModel().parts[0], { ...testModel().parts[0], key: 'm/1', name: 'Lid' }],
        source: { type: 'file', entry: 'plate.obj', files: [{ name: 'plate.obj', fileId: 'f' }] },
      }),
    ]
    const clay = project.passes.find((pass) => pass.kind === 'clay')
    if (!clay) throw new Error('a new project has no clay')
    project.passes.push({ ...clay, id: 'second', name: 'Clay by night', rigId: 'dark' })
    const bytes = new Uint8Array(readFileSync(plate))
    const files = new Map([['f', { name: 'plate.obj', bytes }]])
    const archived = put('two.zip', await writeProjectArchive({ project, files, results: new Map() }))
    const out = path.join(folder, 'two')
    const args = ['render', archived, '--size', '16x16', '--samples', '1', '--rays', '1', '--out', out]
    expect(relief(...args, '--passes', 'clay,clay by night', '--name', '{pass}').stderr).toBe('')
    expect(readdirSync(out).sort()).toEqual(['Clay by night.png', 'clay.png'])
    const brightness = (name: string) =>
      readPng(new Uint8Array(readFileSync(path.join(out, name))), name).pixels.reduce(
        (sum, value) => sum + value,
        0,
      )
    expect(brightness('clay.png')).toBeGreaterThan(brightness('Clay by night.png'))
    const unknown = relief(...args, '--passes', 'clay by day')
    expect(unknown).toMatchObject({ status: 2, stdout: '' })
    expect(unknown.stderr).toContain('Clay by night')
  })
  it('is refused at once where no folder can be made, and leaves none behind where the work fails', () => {
    const started = Date.now()
    for (const [command, more] of [
      [['render', plate, '--passes', 'clay', '--size', '4000x4000'], '/proc/x/y'],
      [['lines', plate, '--size', '4000x4000'], '/proc/x/lines.svg'],
    ] as const) {
      const run = relief(...command, '--out', more)
      expect([run.status, run.stderr]).toEqual([1, expect.stringContaining('could not be made')])
      expect(run.stderr.trim().split('\n')).toHaveLength(1)
    }
    expect(Date.now() - started).toBeLessThan(20_000)
    const gone = path.join(folder, 'gone', 'for', 'good')
    const sheet = put('broken.json', '{"width":4,"height":4,"layers":[{"source":{"file":"none.png"}}]}')
    expect(relief('compose', sheet, '--out', path.join(gone, 'a.png')).status).toBe(1)
    expect(existsSync(path.join(folder, 'gone'))).toBe(false)
  })
  it('names the version of a glTF of before', () => {
    const old = { asset: { version: '1.0' }, nodes: { a: {} }, scenes: {}, meshes: {} }
    expect(relief('inspect', put('old.gltf', JSON.stringify(old))).stderr).toContain(
      'glTF version 1.0 is not supported',
    )
    const older = put('older.gltf', JSON.stringify({ nodes: { a: {} } }))
    expect(relief('inspect', older).stderr).toContain('glTF version 1.0')
    const glb = new Uint8Array(32)
    new DataView(glb.buffer).setUint32(0, 0x46546c67, true)
    new DataView(glb.buffer).setUint32(4, 1, true)
    expect(relief('inspect', put('old.glb', glb)).stderr).toContain('GLB version 1 is not supported')
  })
})

describe('relief compose', () => {
  it('reads every kind of picture, from below the folder of its sheet', () => {
    const grey = Uint8ClampedArray.from({ length: 4 * 64 }, (_, i) => (i % 4 === 3 ? 255 : 128))
    mkdirSync(path.join(folder, 'sub'), { recursive: true })
    put('sub/a.jpg', new Uint8Array(encodeJpeg({ data: grey, width: 8, height: 8 }, 95).data))
    put(
      'b.exr',
      writeExr(
        1,
        1,
        ['R', 'G', 'B'].map((name) => ({ name, type: 'float', data: Float32Array.of(0.2159) })),
      ),
    )
    for (const file of ['sub/a.jpg', 'b.exr']) {
      const sheet = put('kinds.json', JSON.stringify({ width: 8, height: 8, layers: [{ source: { file } }] }))
      const out = path.join(folder, 'kinds.png')
      expect(relief('compose', sheet, '--out', out, '--overwrite').stderr).toBe('')
      const { pixels } = readPng(new Uint8Array(readFileSync(out)), 'kinds.png')
      expect(Math.abs(pixels[0] * 255 - 128)).toBeLessThan(2)
    }
  })
  it('reads nothing outside that folder, not by a path and not by a link', () => {
    put('outside.png', writePng(1, 1, Uint8ClampedArray.of(255, 0, 0, 255)))
    const inner = path.join(folder, 'inner')
    mkdirSync(inner, { recursive: true })
    symlinkSync(path.join(folder, 'outside.png'), path.join(inner, 'link.png'))
    for (const file of [
      '../outside.png',
      path.join(folder, 'outside.png'),
      'link.png',
      '/etc/hostname',
      '.',
    ]) {
      const layer = { source: { fill: '#ffffff' }, mask: { file } }
      const sheet = put('inner/sheet.json', JSON.stringify({ width: 1, height: 1, layers: [layer] }))
      const run = relief('compose', sheet, '--out', path.join(inner, 'never.png'))
      expect([run.status, run.stderr]).toEqual([1, expect.stringContaining('does not lie in its folder')])
      expect(run.stderr).toContain(file)
    }
    expect(existsSync(path.join(inner, 'never.png'))).toBe(false)
  })
  it('multiplies, masks, and writes PNG, EXR and OpenRaster', () => {
    const pixel = (...rgba: number[]) => writePng(2, 1, Uint8ClampedArray.from([...rgba, ...rgba]))
    put('base.png', pixel(200, 100, 50, 255))
    put('mask.png', writePng(2, 1, Uint8ClampedArray.from([255, 255, 255, 255, 0, 0, 0, 255])))
    const sheet = put(
      'sheet.json',
      JSON.stringify({
        width: 2,
        height: 1,
        blendSpace: 'display',
        background: null,
        layers: [
          { source: { file: 'base.png' } },
          {
            source: { fill: '#808080ff' },
            mode: 'multiply',
            opacity: 0.5,
            mask: { file: 'mask.png' },
            effects: [],
          },
        ],
      }),
    )
    for (const name of ['a.png', 'a.exr', 'a.ora']) {
      const run = relief('compose', sheet, '--out', path.join(folder, name))
      expect([run.status, run.stdout, run.stderr]).toEqual([0, '', ''])
      expect(existsSync(path.join(folder, name))).toBe(true)
    }
    const { pixels } = readPng(new Uint8Array(readFileSync(path.join(folder, 'a.png'))), 'a.png')
    const expected = (v: number) => v * (0.5 + 0.5 * (128 / 255))
    ;[200, 100, 50].forEach((v, c) => {
      expect(Math.abs(pixels[c] * 255 - expected(v))).toBeLessThanOrEqual(0.51)
      expect(Math.round(pixels[4 + c] * 255)).toBe(v)
    })
  })
  it('gives the same bytes with any number of threads, and reads back the layers it wrote', () => {
    put('half.png', writePng(1, 1, Uint8ClampedArray.of(128, 128, 128, 255)))
    const layers = [
      { type: 'fill', colour: '#c08040' },
      {
        type: 'group',
        name: 'Shade',
        mode: 'multiply',
        opacity: 0.75,
        children: [
          { type: 'fill', name: 'Grey', colour: '#808080', mask: { file: 'half.png', featherPx: 9 } },
          { type: 'fill', name: 'Blue', colour: '#4060ff60', mode: 'screen' },
        ],
      },
    ]
    const sheet = put('tree.json', JSON.stringify({ width: 300, height: 200, layers }))
    const written = (from: string, name: string, ...rest: string[]) => {
      const run = relief('compose', from, '--out', path.join(folder, name), '--overwrite', ...rest)
      expect([run.status, run.stdout, run.stderr]).toEqual([0, '', ''])
      return readFileSync(path.join(folder, name))
    }
    for (const format of ['png', 'png16', 'exr'])
      expect(
        written(sheet, `t.${format.slice(0, 3)}`, '--format', format, '--threads', '1').equals(
          written(sheet, `t.${format.slice(0, 3)}`, '--format', format, '--threads', '3'),
        ),
      ).toBe(true)
    written(sheet, 'tree.ora')
    const pixelOf = (name: string) => [
      ...readPng(readFileSync(path.join(folder, name)), name).pixels.subarray(0, 4),
    ]
    written(sheet, 'first.png')
    written(path.join(folder, 'tree.ora'), 'again.png')
    pixelOf('again.png').forEach((v, c) =>
      expect(Math.abs(v - pixelOf('first.png')[c])).toBeLessThan(2.1 / 255),
    )
    put('no.ora', 'no zip at all')
    const bad = relief('compose', path.join(folder, 'no.ora'), '--out', path.join(folder, 'no.png'))
    expect([bad.status, bad.stderr.trim().split('\n')]).toEqual([
      1,
      [expect.stringMatching(/^relief compose: .*no\.ora: it is not a zip file, or is damaged$/)],
    ])
    const wrong = relief('compose', sheet, '--out', path.join(folder, 'x.png'), '--threads', '0')
    expect([wrong.status, wrong.stderr]).toEqual([
      2,
      expect.stringContaining('--threads takes a whole number from 1'),
    ])
  })
  it('takes a tree: groups, washes, gates, masks of terms, effects; and 16 bits', () => {
    const grey = (name: string, v: number) => put(name, writePng(1, 1, Uint8ClampedArray.of(v, v, v, 255)))
    grey('dark.png', 51)
    grey('half.png', 128)
    const layers = [
      { type: 'fill', colour: '#808080' },
      {
        type: 'group',
        isolated: false,
        opacity: 0.5,
        children: [{ type: 'picture', file: 'dark.png', mode: 'multiply' }],
      },
      // Of what lies beneath only what is dark: here all of it.
      { type: 'fill', colour: '#ffffff', opacity: 0.1, gate: { beneath: [0, 0, 0.5, 0.6] } },
      { type: 'fill', colour: '#ffffff', gate: { beneath: [0.9, 1, 1, 1] } },
      {
        type: 'wash',
        opacity: 0.5,
        mask: { terms: [{ kind: 'picture', file: 'half.png' }] },
        effects: [{ kind: 'levels', params: { low: 1, high: 0 } }],
      },
    ]
    const sheet = put('tree.json', JSON.stringify({ width: 16, height: 16, layers }))
    const out = path.join(folder, 'tree.png')
    expect(relief('compose', sheet, '--out', out, '--format', 'png16').stderr).toBe('')
    // Worked by hand: multiplied by half, a tenth of white, a quarter of its inverse.
    const base = 128 / 255
    const grouped = base + 0.5 * (base * 0.2 - base)
    const whitened = grouped + 0.1 * (1 - grouped)
    const washed = whitened + 0.5 * (128 / 255) * (1 - whitened - whitened)
    const { pixels } = readPng(new Uint8Array(readFileSync(out)), 'tree.png')
    expect(pixels[0]).toBeCloseTo(washed, 3)
    expect(readFileSync(out)[24]).toBe(16)
    const wrong = (...args: string[]) => relief('compose', sheet, '--out', out, '--overwrite', ...args)
    expect(wrong('--format', 'jpeg')).toMatchObject({ status: 2 })
    expect(wrong('--format', 'exr').stderr).toContain('written to a .exr file')
  })
  it('takes textures, terms that look at layers, and files in place of passes and tables', () => {
    put('near.png', writePng(2, 1, Uint8ClampedArray.of(255, 255, 255, 255, 0, 0, 0, 255)))
    put('swap.cube', 'LUT_3D_SIZE 2\n0 0 0\n0 0 1\n0 1 0\n0 1 1\n1 0 0\n1 0 1\n1 1 0\n1 1 1\n')
    const layers = [
      { id: 'ground', type: 'fill', colour: '#ff0000' },
      { type: 'texture', params: { style: 'clouds', size: 64 }, visible: false },
      // Blue where it is near, by a picture of depth.
      {
        type: 'fill',
        colour: '#0000ff',
        mask: { terms: [{ kind: 'depthRange', file: 'near.png', range: [-1, -1, 0.5, 0.5] }] },
      },
      // Red and blue change places, where the ground shows something: everywhere.
      {
        type: 'wash',
        mask: { terms: [{ kind: 'layerAlpha', layer: 'ground' }] },
        effects: [{ kind: 'gradingTable', params: { file: 'swap.cube' } }],
      },
    ]
    const sheet = put('more.json', JSON.stringify({ width: 32, height: 16, layers }))
    const out = path.join(folder, 'more.png')
    expect(relief('compose', sheet, '--out', out).stderr).toBe('')
    const { pixels } = readPng(new Uint8Array(readFileSync(out)), 'more.png')
    const at = (x: number) => [...pixels.subarray(4 * x, 4 * x + 3)].map(Math.round)
    expect([at(2), at(29)]).toEqual([
      [1, 0, 0],
      [0, 0, 1],
    ])
    const broken = { type: 'texture', params: { style: 'velvet' } }
    const wrong = put('velvet.json', JSON.stringify({ width: 32, height: 16, layers: [broken] }))
    expect(relief('compose', wrong, '--out', out, '--overwrite').stderr).toMatch(/layers\.0\.params.*style/)
  })
  it('says in which layer of which group something is wrong', () => {
    const inner = { type: 'group', children: [{ type: 'wash', effects: [{ kind: 'sparkle' }] }] }
    const sheet = put('deep.json', JSON.stringify({ width: 16, height: 16, layers: [inner] }))
    const run = relief('compose', sheet, '--out', path.join(folder, 'never.png'))
    expect([run.status, run.stderr]).toEqual([1, expect.stringContaining('layers.0.children.0.effects.0')])
    expect(run.stderr).toContain('sparkle')
  })
  it.each([
    ['{', 'is not JSON'],
    ['{"width": 2, "height": 1, "layers": [{"type": "hologram"}]}', 'layers.0.type'],
    [
      '{"width": 2, "height": 1, "layers": [{"type": "group", "children": [{"type": "fill", "colour": 3}]}]}',
      'layers.0.children.0.colour',
    ],
    [
      '{"width": 2, "height": 1, "layers": [{"type": "wash", "gate": {"own": [1, 0, 0, 0]}}]}',
      'layers.0.gate.own',
    ],
    ['{"width": 2, "height": 1, "layers": [{"source": {"fill": "red"}}]}', 'layers.0.source'],
    [
      '{"width": 2, "height": 1, "layers": [{"source": {"fill": "#ff0000"}, "mode": "glowing"}]}',
      'layers.0.mode',
    ],
    [
      '{"width": 2, "height": 1, "layers": [{"source": {"file": "gone.png"}}]}',
      'gone.png: there is no such file',
    ],
    [
      '{"width": 2, "height": 1, "layers": [{"source": {"fill": "#ff0000"}, "effects": [{"kind": "levels", "params": {"gama": 2}}]}]}',
      'layers.0.effects.0',
    ],
  ])('refuses %s', (json, reason) => {
    const run = relief('compose', put('bad.json', json), '--out', path.join(folder, 'never.png'))
    expect([run.status, run.stderr.includes(reason)]).toEqual([1, true])
    expect(existsSync(path.join(folder, 'never.png'))).toBe(false)
  })
})

describe('relief kinds', () => {
  it('prints every registry as JSON, with what each parameter may be', () => {
    const list = (name: string) => {
      const run = relief('kinds', name)
      expect([run.status, run.stderr]).toEqual([0, ''])
      return JSON.parse(run.stdout) as Record<string, unknown>[]
    }
    const levels = list('effects').find(({ kind }) => kind === 'levels')
    expect(levels).toMatchObject({
      version: 1,
      label: 'Levels',
      group: 'Tone',
      params: { gamma: { type: 'number', min: 0.1, max: 5, default: 1 } },
    })
    expect(list('effects').map(({ kind }) => kind)).toEqual(expect.arrayContaining(['tint', 'gaussianBlur']))
    expect(list('passes').map(({ kind }) => kind)).toContain('occlusion')
    expect(list('contents').map(({ kind }) => kind)).toEqual([
      'pass',
      'fill',
      'picture',
      'type',
      'sheet',
      'mockup',
      'fitted',
      'texture',
      'flare',
      'specks',
      'fallenShadow',
      'castShadow',
      'cracks',
      'painted',
      'group',
      'wash',
      'pressing',
    ])
    const terms = list('terms')
    expect(terms.map(({ kind }) => kind)).toEqual(expect.arrayContaining(['parts', 'depthRange', 'picture']))
    expect(terms.find(({ kind }) => kind === 'clouds')).toMatchObject({
      params: { cover: { type: 'number', min: 0, max: 1, default: 0.5 } },
    })
    expect(list('modes')).toHaveLength(20)
    expect(list('formats').map(({ kind }) => kind)).toEqual(['png8', 'png16', 'jpeg', 'ora'])
    expect(relief('kinds', 'stones')).toMatchObject({ status: 2, stdout: '' })
  })
})

describe('a project that was painted on', () => {
  it('is composed the same on any number of threads, paint and all', async () => {
    const tile = (value: number, alpha: number) => {
      const words = new Uint16Array(4 * TILE_PIXELS).fill(value)
      for (let i = 0; i < TILE_PIXELS; i++) words[inBlocks(i, 3)] = alpha
      return new Uint8Array(words.buffer)
    }
    const made = [tile(9_000, 30_000), tile(50_000, 65_535)]
    const names = await Promise.all(made.map(contentName))
    const paint = new Map(made.map((bytes, i) => [names[i], bytes]))
    const places = Array.from({ length: 30 }, (_, i) => [`${i % 6},${Math.floor(i / 6)}`, names[i % 2]])
    const tiles = Object.fromEntries(places) as Record<string, string>
    const project = newProject('Painted')
    const [shot] = project.shots
    const size = { width: 768, height: 640 }
    const layer = newLayer({
      id: 'p',
      name: 'Paint',
      content: { kind: 'painted', version: 1, ...size, tiles },
    })
    const sheet = { ...newSheet('Sheet', shot), ...size, background: null, roots: ['p'], nodes: { p: layer } }
    const painted = { ...project, sheets: [sheet], shots: [{ ...shot, sheetId: sheet.id }] }
    const archive = path.join(folder, 'painted.zip')
    writeFileSync(
      archive,
      await writeProjectArchive({ project: painted, files: new Map(), results: new Map(), paint }),
    )
    const composed = (threads: string) => {
      const out = path.join(folder, `painted-${threads}.png`)
      const run = relief('compose', archive, '--out', out, '--threads', threads)
      expect([run.status, run.stderr]).toEqual([0, ''])
      return readPng(readFileSync(out), out).pixels
    }
    const alone = composed('1')
    expect(composed('3')).toEqual(alone)
    const at = (x: number, y: number) => [...alone.subarray(4 * (y * 768 + x), 4 * (y * 768 + x) + 4)]
    for (let i = 0; i < 30; i++) {
      const [, , , alpha] = at((i % 6) * 128 + 60, Math.floor(i / 6) * 128 + 60)
      expect(alpha).toBeCloseTo(i % 2 ? 1 : 30_000 / 65_535, 2)
    }
  })
})

describe('a command that is interrupted', () => {
  it.each([150, 400, 900, 1600])('after %i ms leaves whole files or none', async (ms) => {
    const out = path.join(folder, `stopped ${ms}`)
    const args = ['render', plate, '--passes', 'depth,normal,flat,facing', '--size', '900x900', '--out', out]
    const run = spawn(process.execPath, [path.join(root, 'cli', 'relief.mjs'), ...args], { stdio: 'ignore' })
    const code = new Promise<number | null>((resolve) => run.on('exit', resolve))
    await new Promise((resolve) => setTimeout(resolve, ms))
    run.kill('SIGINT')
    // Stopped before it listens, by the system; else as shells report it; or done already.
    expect([null, 130, 0]).toContain(await code)
    for (const name of existsSync(out) ? readdirSync(out) : []) {
      expect(name).toMatch(/^view_\w+\.png$/)
      expect(readPng(new Uint8Array(readFileSync(path.join(out, name))), name).width).toBe(900)
    }
  })
})

describe('relief lines', () => {
  const out = path.join(folder, 'lines.svg')
  it('writes one group for each kind and part, with the picture as its box', () => {
    const { status, stderr } = relief(
      ...[
        'lines',
        plate,
        '--kinds',
        'border,silhouette',
        '--size',
        '320x200',
        '--view',
        '30,40',
        '--out',
        out,
      ],
    )
    expect([status, stderr]).toEqual([0, ''])
    const svg = readFileSync(out, 'utf8')
    expect(svg).toContain('viewBox="0 0 320 200"')
    const groups = [...svg.matchAll(/data-kind="([^"]+)" data-part="([^"]+)" data-visible="([^"]+)"/g)]
    expect(groups.map((g) => g.slice(1).join(' ')).sort()).toEqual([
      'border Lid true',
      'border Plate false',
      'border Plate true',
    ])
    // Everything lies within the picture.
    for (const [, x, y] of svg.matchAll(/[ML]([\d.-]+) ([\d.-]+)/g)) {
      expect(Number(x)).toBeGreaterThan(0)
      expect(Number(x)).toBeLessThan(320)
      expect(Number(y)).toBeGreaterThan(0)
      expect(Number(y)).toBeLessThan(200)
    }
  })
  it('replaces nothing unasked, and says what was wrong', () => {
    expect(relief('lines', plate, '--size', '320x200', '--out', out)).toMatchObject({ status: 1 })
    const wrong = (...args: string[]) => relief('lines', plate, '--size', '320x200', ...args)
    expect(wrong('--out', 'x.png')).toMatchObject({ status: 2 })
    expect(wrong('--out', 'x.svg', '--kinds', 'hair').stderr).toContain('there are no lines "hair"')
    expect(wrong('--out', 'x.svg', '--style', 'crayon').stderr).toContain('there is no style "crayon"')
    expect(wrong('--out', 'x.svg', '--weight', '900')).toMatchObject({ status: 2 })
    expect(relief('lines', plate, '--size', '320x200')).toMatchObject({ status: 2 })
  })
})

describe('relief hang', () => {
  const out = path.join(folder, 'hung.png')

  it('makes a picture, and a project with everything in it, of a model and one of our recipes', async () => {
    const size = ['--size', '96x60', '--quality', 'draft', '--threads', '1'] as const
    const made = relief(
      'hang',
      plate,
      '--recipe',
      'Clay and contour',
      ...size,
      '--ground',
      'Plate',
      '--out',
      out,
    )
    expect([made.status, made.stderr]).toEqual([0, ''])
    const { width, height, pixels } = readPng(readFileSync(out), out)
    expect([width, height]).toEqual([96, 60])
    // Paper at the corner; the lid is darker than paper.
    const light = (x: number, y: number) => pixels[4 * (y * 96 + x)]
    expect(light(2, 2)).toBeGreaterThan(0.8)
    expect(light(48, 30)).toBeLessThan(light(2, 2))

    const archive = path.join(folder, 'hung.zip')
    const kept = relief('hang', plate, '--recipe', 'clay-and-contour', ...size, '--out', archive)
    expect(kept.status).toBe(0)
    const again = path.join(folder, 'composed.png')
    expect(relief('compose', archive, '--out', again).status).toBe(0)
    expect(readPng(readFileSync(again), again)).toMatchObject({ width: 96, height: 60 })
  })

  it('refuses what it cannot use, by name', () => {
    const wrong = (...args: string[]) => relief('hang', plate, '--size', '64x64', ...args).stderr
    expect(wrong('--recipe', 'nothing', '--out', 'x.png')).toMatch(/one of clay-and-contour, /)
    expect(wrong('--recipe', 'ink-wash', '--out', 'x.jpg')).toMatch(/a \.png picture or a \.zip project/)
    expect(wrong('--recipe', 'ink-wash', '--ground', 'Floor', '--out', 'x.png')).toMatch(/no part "Floor"/)
    expect(wrong('--recipe', 'ink-wash', '--answer', 'Lamp=Lid', '--out', 'x.png')).toMatch(
      /what the recipe names: nothing/,
    )
    expect(wrong('--recipe', path.join(folder, 'hung.zip'), '--out', 'x.png')).toMatch(/is not a recipe/)
    expect(existsSync('x.png')).toBe(false)
  })
})

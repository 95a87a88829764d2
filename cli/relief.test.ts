import { spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { describe, expect, it } from 'vitest'
import { exrValues, readExr } from '@/core/formats/exr'
import { readPng, writePng } from '@/core/formats/png'

const root = path.resolve(import.meta.dirname, '..')
const folder = mkdtempSync(path.join(tmpdir(), 'relief-cli-'))
const put = (name: string, content: string | Uint8Array): string => {
  const full = path.join(folder, name)
  writeFileSync(full, content)
  return full
}
const relief = (...args: string[]) => {
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    [path.join(root, 'cli', 'relief.mjs'), ...args],
    { encoding: 'utf8' },
  )
  return { status, stdout, stderr }
}

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
  ])('refuses %j as wrong use', (args, words) => {
    const run = relief(...base, ...args)
    expect([run.status, run.stderr.includes(words)]).toEqual([2, true])
  })
})

describe('relief compose', () => {
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
  it.each([
    ['{', 'is not JSON'],
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

import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { EXRLoader } from 'three/addons/loaders/EXRLoader.js'
import { FloatType } from 'three'
import { describe, expect, it } from 'vitest'
import { exrValues, readExr } from '@/core/formats/exr'
import { matteCoverage, nameHash } from '@/core/formats/coverage-mattes'
import { reliefHere } from './testing/relief-here'

/** One EXR of many layers with mattes, read by another reader, and by the published convention. */

const folder = mkdtempSync(path.join(tmpdir(), 'relief-exr-'))
const at = (...names: string[]) => path.join(folder, ...names)
const board = (x: number, z: number, half: number) =>
  [
    [-half, -half],
    [half, -half],
    [half, half],
    [-half, half],
  ].map(([a, b]) => `v ${x + a} ${b} ${z}`)
writeFileSync(
  at('two.obj'),
  [
    'mtllib two.mtl',
    'o Sign: main',
    ...board(-0.3, 0, 0.8),
    'usemtl red',
    'f 1 2 3',
    'usemtl blue',
    'f 1 3 4',
    'o Möwe',
    ...board(0.43, 1, 0.57),
    'usemtl blue',
    'f 5 6 7 8',
  ].join('\n'),
)
writeFileSync(at('two.mtl'), 'newmtl red\nKd 0.9 0.1 0.1\nnewmtl blue\nKd 0.1 0.1 0.9\n')
const VIEW = ['--eye', '0,0,6', '--target', '0,0,0', '--size', '61x47', '--samples', '16']
const render = (out: string, ...more: string[]) => {
  const { status, stderr } = reliefHere('render', at('two.obj'), ...VIEW, '--out', at(out), ...more)
  expect([status, stderr]).toEqual([0, ''])
  return readdirSync(at(out))
}

describe('an EXR of many layers', () => {
  it('holds the channels of all its passes, as files of their own do', () => {
    expect(render('one', '--passes', 'depth,clay,contour,id', '--together')).toEqual(['view_passes.exr'])
    render('many', '--passes', 'depth,clay,contour,id', '--format', 'exr')
    const { channels } = readExr(readFileSync(at('one', 'view_passes.exr')), 'one')
    for (const pass of ['depth', 'clay', 'contour', 'id']) {
      const alone = readExr(readFileSync(at('many', `view_${pass}.exr`)), pass).channels
      const own = channels.filter(({ name }) => name.startsWith(`${pass}.`))
      expect(own.map(({ name }) => name)).toEqual(alone.map(({ name }) => `${pass}.${name}`))
      own.forEach((channel, i) => expect(channel.data).toEqual(alone[i].data))
    }
  })
  it('shows its first picture to other readers', () => {
    render('shown', '--passes', 'clay,occlusion', '--together', '--half')
    const { buffer } = new Uint8Array(readFileSync(at('shown', 'view_passes.exr')))
    const loader = new EXRLoader().setDataType(FloatType)
    const { width, height, data } = loader.parse(buffer) as {
      width: number
      height: number
      data: Float32Array
    }
    expect([width, height]).toEqual([61, 47])
    const { channels } = readExr(readFileSync(at('shown', 'view_passes.exr')), 'shown')
    const values = ['R', 'G', 'B', 'A'].map((wanted) => {
      const found = channels.find(({ name }) => name === wanted)
      return found ? exrValues(found) : new Float32Array()
    })
    let seen = 0
    // That reader's rows begin at the bottom.
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        for (let c = 0; c < 4; c++) {
          const own = values[c][(height - 1 - y) * width + x]
          expect(data[4 * (y * width + x) + c]).toBeCloseTo(own, 5)
          if (own > 0) seen++
        }
    expect(seen).toBeGreaterThan(1000)
  })
  it('has mattes that give back what each name covers', () => {
    render('mattes', '--passes', 'clay,id', '--together', '--mattes', 'part,material,group')
    const { channels, texts } = readExr(readFileSync(at('mattes', 'view_passes.exr')), 'mattes')
    const said = new Map(texts.map(({ name, value }) => [name, value]))
    const key = nameHash('MattePart').toString(16).padStart(8, '0').slice(0, 7)
    expect(said.get(`cryptomatte/${key}/name`)).toBe('MattePart')
    expect(said.get(`cryptomatte/${key}/hash`)).toBe('MurmurHash3_32')
    expect(said.get(`cryptomatte/${key}/conversion`)).toBe('uint32_to_float32')
    const manifest = JSON.parse(said.get(`cryptomatte/${key}/manifest`) ?? '{}') as Record<string, string>
    expect(Object.keys(manifest).sort()).toEqual(['Möwe', 'Sign: main'])
    // Ids in the picture are those of the manifest, bit by bit.
    const bits = (value: number) =>
      new Uint32Array(Float32Array.of(value).buffer)[0].toString(16).padStart(8, '0')
    const ids = new Set(
      [...(channels.find(({ name }) => name === 'MattePart00.R')?.data ?? [])]
        .filter((v) => v !== 0)
        .map(bits),
    )
    expect(ids).toEqual(new Set(Object.values(manifest)))
    // Together they cover what the ID pass covers; materials are where parts are.
    const sum = (layer: string, names: string[]) =>
      names
        .map((name) => matteCoverage(channels, layer, name))
        .reduce((all, own) => all.map((v, i) => v + own[i]))
    const parts = sum('MattePart', ['Sign: main', 'Möwe'])
    const materials = sum('MatteMaterial', ['red', 'blue'])
    const alpha = exrValues(channels.find(({ name }) => name === 'A') ?? channels[0])
    parts.forEach((value, p) => {
      expect(value).toBeCloseTo(materials[p], 5)
      expect(value).toBeLessThan(1 + 1e-6)
      expect(Math.abs(value - alpha[p])).toBeLessThan(0.08)
    })
    // The sign is half red, half blue, and the gull hides some of it.
    const area = (own: Float32Array) => own.reduce((total, v) => total + v, 0)
    const red = area(matteCoverage(channels, 'MatteMaterial', 'red'))
    expect(red).toBeGreaterThan(60)
    expect(area(matteCoverage(channels, 'MatteMaterial', 'blue'))).toBeGreaterThan(red)
    expect(area(matteCoverage(channels, 'MattePart', 'nobody'))).toBe(0)
    // Edges are shared, not cut.
    expect(parts.some((_, p) => channels.find(({ name }) => name === 'MattePart00.A')?.data[p])).toBe(true)
  })
  it('renders what mattes are made from, and keeps half as many bits where asked', () => {
    render('half', '--passes', 'clay', '--together', '--mattes', 'part', '--half')
    const { channels } = readExr(readFileSync(at('half', 'view_passes.exr')), 'half')
    expect(channels.filter(({ name }) => name.startsWith('id.'))).toEqual([])
    expect(channels.filter(({ name }) => /^MattePart/.test(name)).every(({ type }) => type === 'float')).toBe(
      true,
    )
    expect(channels.filter(({ name }) => /^clay/.test(name)).every(({ type }) => type === 'half')).toBe(true)
  })
  it.each([
    [['--passes', 'clay', '--mattes', 'part'], /--mattes and --half go with --together/],
    [['--passes', 'clay', '--together', '--format', 'png'], /--together writes one EXR/],
    [['--passes', 'clay', '--together', '--mattes', 'colour'], /--mattes takes part, material, group/],
  ])('refuses %j', (args, words) => {
    const { status, stderr } = reliefHere('render', at('two.obj'), ...VIEW, '--out', at('no'), ...args)
    expect([status, words.test(stderr)]).toEqual([2, true])
  })
})

describe('names as hashes', () => {
  // Published values of MurmurHash3_x86_32 with seed 0.
  it.each([
    ['', 0],
    ['hello', 0x248bfa47],
    ['hello, world', 0x149bbb7f],
    ['The quick brown fox jumps over the lazy dog', 0x2e4ff723],
  ])('%j', (name, hash) => {
    expect(nameHash(name)).toBe(hash)
  })
})

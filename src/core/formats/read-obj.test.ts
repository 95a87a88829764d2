import { describe, expect, it } from 'vitest'
import { polygonsBySides, validateMesh, vertexCount } from '../geometry/polygon-mesh'
import { linearToSrgb } from '../math/colour'
import { readObj } from './read-obj'

const bytes = (text: string) => new TextEncoder().encode(text)
const read = (obj: string, others: Record<string, string> = {}) => {
  const model = readObj(
    new Map([['a.obj', bytes(obj)], ...Object.entries(others).map(([n, t]) => [n, bytes(t)] as const)]),
    'a.obj',
  )
  validateMesh(model.mesh)
  return model
}
const SQUARE = 'v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\n'

describe('readObj', () => {
  it('keeps polygons: triangle, quad, pentagon', () => {
    const model = read(`${SQUARE}v -1 0.5 0\nf 1 2 3\nf 1 2 3 4\nf 1 2 3 4 5\n`)
    expect(polygonsBySides(model.mesh)).toEqual({ 3: 1, 4: 1, more: 1 })
  })
  it.each([
    ['carriage returns', SQUARE.replaceAll('\n', '\r') + 'f 1 2 3 4\r'],
    ['both', SQUARE.replaceAll('\n', '\r\n') + 'f 1 2 3 4\r\n'],
    ['no last line end', SQUARE + 'f 1 2 3 4'],
    ['continued lines', SQUARE + 'f 1 2 \\\n 3 4\n'],
    ['negative indices', SQUARE + 'f -4 -3 -2 -1\n'],
    ['comments and tabs', '# x\n' + SQUARE + 'f\t1\t2\t3\t4 # end\n'],
    ['a byte order mark', '\ufeff' + SQUARE + 'f 1 2 3 4\n'],
    ['colours behind vertices', SQUARE.replaceAll(/^(v .*)$/gm, '$1 0.1 0.2 0.3') + 'f 1 2 3 4\n'],
  ])('reads %s', (_name, text) => {
    const model = read(text)
    expect(polygonsBySides(model.mesh)[4]).toBe(1)
    expect(vertexCount(model.mesh)).toBe(4)
    expect(Array.from(model.mesh.cornerNormals.slice(0, 3))).toEqual([0, 0, 1])
  })
  it('reads UTF-16', () => {
    const text = '\ufeff' + SQUARE + 'o Möwe\nf 1 2 3 4\n'
    const wide = new Uint8Array(text.length * 2)
    for (let i = 0; i < text.length; i++) {
      wide[2 * i] = text.charCodeAt(i) & 255
      wide[2 * i + 1] = text.charCodeAt(i) >> 8
    }
    expect(readObj(new Map([['a.obj', wide]]), 'a.obj').parts[0].name).toBe('Möwe')
  })
  it('makes parts of objects and of groups inside them, names with spaces', () => {
    const model = read(`${SQUARE}o Tide kiosk\ng Door leaf\nf 1 2 3\ng Roof\nf 1 3 4\no Quay\nf 1 2 4\n`)
    expect(model.parts.map((p) => [p.name, p.parent])).toEqual([
      ['Tide kiosk', -1],
      ['Door leaf', 0],
      ['Roof', 0],
      ['Quay', -1],
    ])
  })
  it('takes materials from a library by its base name, with spaces, as linear light', () => {
    const model = read(`mtllib sub\\my lib.mtl\n${SQUARE}usemtl Old brass\nf 1 2 3\n`, {
      'my lib.mtl': 'newmtl Old brass\r\nKd 0.18 0.5 1\r\n',
    })
    expect(model.materials).toMatchObject([
      { name: 'Old brass', baseColour: [linearToSrgb(0.18), linearToSrgb(0.5), linearToSrgb(1)] },
    ])
  })
  it('says what is missing and goes on in grey', () => {
    const model = read(`mtllib gone.mtl\n${SQUARE}usemtl Brass\nf 1 2 3\n`)
    expect(model.warnings.map((w) => w.code)).toEqual(
      expect.arrayContaining(['library-missing', 'material-missing']),
    )
  })
  it('keeps normals and texture coordinates with their corners', () => {
    const model = read(`${SQUARE}vt 0 0\nvt 1 0.5\nvn 0 0 2\nf 1/1/1 2/2/1 3/1/1\n`)
    expect(Array.from(model.mesh.cornerNormals)).toEqual([0, 0, 1, 0, 0, 1, 0, 0, 1])
    expect(Array.from(model.mesh.cornerUvs ?? [])).toEqual([0, 0, 1, 0.5, 0, 0])
  })
  it.each([
    ['nothing', ''],
    ['vertices only', SQUARE],
    ['only bad faces', SQUARE + 'f 1 2 99\nf 0 0 0\nf a b c\n'],
  ])('refuses a file with %s, by name', (_what, text) => {
    expect(() => read(text)).toThrow(/^a\.obj: holds no usable polygon/)
  })
  it('refuses binary data', () => {
    expect(() => read('v 0 0 0\0\0')).toThrow('a.obj: holds binary data')
  })
})

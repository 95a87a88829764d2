import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { UnreadableFileError } from '../errors'
import { meshBounds, polygonsBySides, validateMesh } from '../geometry/polygon-mesh'
import { readModel } from './model-readers'

const text = (lines: string) => new TextEncoder().encode(lines)
const read = async (bytes: Uint8Array) => {
  const model = await readModel(new Map([['a.ply', bytes]]), 'a.ply')
  validateMesh(model.mesh)
  return model
}

const HEADER = `element vertex 4
property float x
property float y
property float z
element face 1
property list uchar int vertex_indices
end_header
`
const ascii = (body: string, header = HEADER) => text(`ply\nformat ascii 1.0\n${header}${body}`)

/** The same quad as bytes, with a property before x, one behind z, and a list that nobody wants. */
function binary(little: boolean, indexType: 'int' | 'uchar' = 'int'): Uint8Array {
  const head = text(
    `ply\r\nformat binary_${little ? 'little' : 'big'}_endian 1.0\r\ncomment made by hand\r\nelement vertex 4\r\nproperty uchar red\r\nproperty uchar green\r\nproperty uchar blue\r\nproperty double x\r\nproperty float z\r\nproperty short y\r\nelement face 1\r\nproperty list uchar float quality\r\nproperty list ushort ${indexType} vertex_index\r\nend_header\r\n`,
  )
  const body = new DataView(
    new ArrayBuffer(4 * (3 + 8 + 4 + 2) + 1 + 8 + 2 + 4 * (indexType === 'int' ? 4 : 1)),
  )
  let at = 0
  for (const [x, y, z] of [
    [0, 0, 1.5],
    [2, 0, 1.5],
    [2, 3, 1.5],
    [0, 3, 1.5],
  ]) {
    for (const c of [255, 0, 51]) body.setUint8(at++, c)
    body.setFloat64(at, x, little)
    body.setFloat32(at + 8, z, little)
    body.setInt16(at + 12, y, little)
    at += 14
  }
  body.setUint8(at++, 2)
  at += 8
  body.setUint16(at, 4, little)
  at += 2
  for (let k = 0; k < 4; k++) {
    if (indexType === 'int') body.setInt32(at, k, little)
    else body.setUint8(at, k)
    at += indexType === 'int' ? 4 : 1
  }
  const bytes = new Uint8Array(head.length + body.byteLength)
  bytes.set(head)
  bytes.set(new Uint8Array(body.buffer), head.length)
  return bytes
}

describe('readPly', () => {
  it('keeps a quad a quad', async () => {
    const model = await read(ascii('0 0 0\n1 0 0\n1 1 0\n0 1 0\n4 0 1 2 3\n'))
    expect(polygonsBySides(model.mesh)).toEqual({ 3: 0, 4: 1, more: 0 })
    expect(model.parts).toEqual([{ name: 'a', parent: -1 }])
    expect(Array.from(model.mesh.cornerNormals.slice(0, 3))).toEqual([0, 0, 1])
  })
  it.each([
    [true, 'int'],
    [false, 'int'],
    [true, 'uchar'],
    [false, 'uchar'],
  ] as const)('reads bytes in either order, properties in any (little: %s, %s)', async (little, type) => {
    const model = await read(binary(little, type))
    expect(meshBounds(model.mesh)).toEqual({ min: [0, 0, 1.5], max: [2, 3, 1.5] })
    expect(polygonsBySides(model.mesh)[4]).toBe(1)
    expect(Array.from(model.mesh.cornerColours ?? [])).toEqual([...Array(4)].flatMap(() => [255, 0, 51]))
  })
  it('takes normals and texture coordinates, and elements it does not know', async () => {
    const header = `element vertex 3
property float nx
property float ny
property float nz
property float x
property float y
property float z
property float s
property float t
element edge 1
property int a
property list uchar int b
element face 1
property list uchar int vertex_indices
end_header
`
    const model = await read(
      ascii('0 0 -1 0 0 0 0 0\n0 0 -1 1 0 0 1 0\n0 0 -1 0 1 0 0 1\n7 2 1 2\n3 0 1 2\n', header),
    )
    expect(Array.from(model.mesh.cornerNormals.slice(0, 3))).toEqual([0, 0, -1])
    expect(Array.from(model.mesh.cornerUvs ?? [])).toEqual([0, 0, 1, 0, 0, 1])
  })
  it('drops a face that names a vertex which is not there, with its number', async () => {
    const header = HEADER.replace('face 1', 'face 2')
    const model = await read(ascii('0 0 0\n1 0 0\n1 1 0\n0 1 0\n3 0 1 9\n4 0 1 2 3\n', header))
    expect(model.warnings.map((w) => w.code)).toContain('index-out-of-range')
    expect(polygonsBySides(model.mesh)).toEqual({ 3: 0, 4: 1, more: 0 })
  })
  it.each([
    ['nothing', text(''), 'the file is empty'],
    ['another kind', text('solid x\n'), 'its first line is not "ply"'],
    ['no end of header', text('ply\nformat ascii 1.0\n'), 'has no end_header'],
    ['no format', text('ply\nelement vertex 0\nend_header\n'), 'names no format'],
    ['an unknown format', text('ply\nformat ascii_99 1.0\nend_header\n'), 'format ascii_99 is not supported'],
    [
      'an unknown type',
      text('ply\nformat ascii 1.0\nelement vertex 1\nproperty quark x\nend_header\n'),
      'property quark x',
    ],
    [
      'a property of nothing',
      text('ply\nformat ascii 1.0\nproperty float x\nend_header\n'),
      'belongs to no element',
    ],
    [
      'a count that is none',
      text('ply\nformat ascii 1.0\nelement vertex many\nend_header\n'),
      'no sound count',
    ],
    ['vertices without x', ascii('', 'element vertex 0\nproperty float y\nend_header\n'), 'no x, y and z'],
    [
      'a billion vertices',
      ascii('0 0 0\n', HEADER.replace('vertex 4', 'vertex 1000000000')),
      'more than the file can hold',
    ],
    ['a billion of nothing', ascii('', 'element face 1000000000\nend_header\n'), 'no usable polygon'],
    ['a body cut short', ascii('0 0 0\n1 0 0\n1 1 0\n0 1 0\n4 0 1'), 'the file ends in face 0'],
    [
      'points only',
      ascii(
        '0 0 0\n',
        'element vertex 1\nproperty float x\nproperty float y\nproperty float z\nend_header\n',
      ),
      'no usable polygon',
    ],
  ])('refuses %s', async (_what, bytes, reason) => {
    await expect(read(bytes)).rejects.toThrow(reason)
  })
  it('never does worse than refuse, whatever bytes are changed or cut', async () => {
    const sources = [binary(true), binary(false), ascii('0 0 0\n1 0 0\n1 1 0\n0 1 0\n4 0 1 2 3\n')]
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...sources),
        fc.array(fc.tuple(fc.nat(), fc.integer({ min: 0, max: 255 })), { maxLength: 6 }),
        fc.nat(),
        async (source, changes, cut) => {
          const bytes = source.slice(0, source.length - (cut % 3 === 0 ? cut % source.length : 0))
          for (const [at, value] of changes) if (bytes.length > 0) bytes[at % bytes.length] = value
          try {
            await read(bytes)
          } catch (error) {
            expect(error).toBeInstanceOf(UnreadableFileError)
          }
        },
      ),
      { numRuns: 600, seed: 21 },
    )
  })
})

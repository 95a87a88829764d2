import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { UnreadableFileError } from '../errors'
import { meshEdges } from '../geometry/edges'
import { faceCount, meshBounds, validateMesh, vertexCount } from '../geometry/polygon-mesh'
import { triangulate } from '../geometry/triangulate'
import { ball, cube } from '../testing/shapes'
import { readModel } from './model-readers'

const read = async (bytes: Uint8Array) => {
  const model = await readModel(new Map([['a.stl', bytes]]), 'a.stl')
  validateMesh(model.mesh)
  return model
}

/** Triangles of a mesh as a binary STL, its header beginning with any word. */
function binary(mesh: ReturnType<typeof cube>, word = 'made by hand'): Uint8Array {
  const { corners } = triangulate(mesh)
  const total = corners.length / 3
  const bytes = new Uint8Array(84 + 50 * total)
  bytes.set(new TextEncoder().encode(word))
  const view = new DataView(bytes.buffer)
  view.setUint32(80, total, true)
  corners.forEach((corner, i) => {
    const v = 3 * mesh.cornerVertices[corner]
    const at = 84 + 50 * Math.floor(i / 3) + 12 + 12 * (i % 3)
    for (let axis = 0; axis < 3; axis++) view.setFloat32(at + 4 * axis, mesh.positions[v + axis], true)
  })
  return bytes
}
const facet = (...points: string[]) =>
  `facet normal 0 0 1\n outer loop\n${points.map((p) => `  vertex ${p}\n`).join('')} endloop\nendfacet\n`
const text = (body: string) => new TextEncoder().encode(body)

describe('readStl', () => {
  it.each(['made by hand', 'solid but binary all the same'])(
    'reads bytes, whatever their header says ("%s")',
    async (word) => {
      const model = await read(binary(cube(1), word))
      expect(faceCount(model.mesh)).toBe(12)
      // Corners that coincide are one vertex again: the cube is closed.
      expect(vertexCount(model.mesh)).toBe(8)
      expect(meshEdges(model.mesh).count).toBe(18)
      expect(meshBounds(model.mesh)).toEqual({ min: [-1, -1, -1], max: [1, 1, 1] })
    },
  )
  it('smooths a ball and keeps a cube sharp', async () => {
    const round = await read(binary(ball(1, 24)))
    for (let c = 0; c < round.mesh.cornerVertices.length; c++) {
      const v = 3 * round.mesh.cornerVertices[c]
      let dot = 0
      for (let axis = 0; axis < 3; axis++)
        dot += round.mesh.cornerNormals[3 * c + axis] * round.mesh.positions[v + axis]
      expect(dot).toBeGreaterThan(0.98)
    }
    const sharp = await read(binary(cube(1)))
    for (const n of sharp.mesh.cornerNormals) expect([0, 1]).toContain(Math.round(Math.abs(n) * 1e5) / 1e5)
  })
  it('makes a part of each solid of a text, in any line ending', async () => {
    const body = `solid Bollard cap\n${facet('0 0 0', '1 0 0', '0 1 0')}endsolid\nsolid\n${facet('0 0 1', '1 0 1', '0 1 1')}endsolid\n`
    for (const ending of ['\n', '\r\n', '\r']) {
      const model = await read(text(body.replaceAll('\n', ending)))
      expect(model.parts.map((p) => p.name)).toEqual(['Bollard cap', 'a'])
      expect(faceCount(model.mesh)).toBe(2)
    }
  })
  it('drops a facet with a corner that is no number', async () => {
    const model = await read(
      text(`solid\n${facet('0 0 0', '1 0 x', '0 1 0')}${facet('0 0 0', '1 0 0', '0 1 0')}endsolid`),
    )
    expect(faceCount(model.mesh)).toBe(1)
    expect(model.warnings.map((w) => w.code)).toContain('not-finite')
  })
  it('leaves out bytes behind the last triangle', async () => {
    const whole = binary(cube(1))
    const longer = new Uint8Array(whole.length + 20)
    longer.set(whole)
    const model = await read(longer)
    expect(faceCount(model.mesh)).toBe(12)
    expect(model.warnings.map((w) => w.code)).toContain('bytes-left')
  })
  it.each([
    ['nothing', new Uint8Array(0), 'the file is empty'],
    ['a few bytes', new Uint8Array(40), 'neither a text STL nor long enough'],
    ['bytes cut short', binary(cube(1)).slice(0, 400), 'claims 12 triangles but holds 6'],
    ['an empty solid', text('solid nothing\nendsolid nothing\n'), 'no usable polygon'],
    [
      'a facet outside',
      text(`solid a\nendsolid a\n`.replace('solid a\n', '') + facet('0 0 0', '1 0 0', '0 1 0')),
      'claims',
    ],
  ])('refuses %s', async (_what, bytes, reason) => {
    await expect(read(bytes)).rejects.toThrow(reason)
  })
  it('never does worse than refuse, whatever bytes are changed or cut', async () => {
    const sources = [binary(cube(1)), text(`solid x\n${facet('0 0 0', '1 0 0', '0 1 0')}endsolid x\n`)]
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
      { numRuns: 600, seed: 4 },
    )
  })
})

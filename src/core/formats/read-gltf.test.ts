import { Document, NodeIO } from '@gltf-transform/core'
import { describe, expect, it } from 'vitest'
import { meshBounds, polygonsBySides, validateMesh } from '../geometry/polygon-mesh'
import { readModel } from './model-readers'

async function glb(
  change: (d: Document, node: ReturnType<Document['createNode']>) => void = () => undefined,
): Promise<Uint8Array> {
  const document = new Document()
  const buffer = document.createBuffer()
  const positions = document
    .createAccessor()
    .setType('VEC3')
    .setArray(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0))
    .setBuffer(buffer)
  const indices = document
    .createAccessor()
    .setType('SCALAR')
    .setArray(Uint16Array.of(0, 1, 2))
    .setBuffer(buffer)
  const primitive = document.createPrimitive().setAttribute('POSITION', positions).setIndices(indices)
  const node = document.createNode('Gull').setMesh(document.createMesh('bird').addPrimitive(primitive))
  document.createScene().addChild(node)
  change(document, node)
  return new NodeIO().writeBinary(document)
}
const read = async (bytes: Uint8Array, name = 'a.glb') => {
  const model = await readModel(new Map([[name, bytes]]), name)
  validateMesh(model.mesh)
  return model
}
const gltf = (json: object) =>
  new TextEncoder().encode(JSON.stringify({ asset: { version: '2.0' }, ...json }))

describe('readGltf', () => {
  it('reads a triangle with its node name', async () => {
    const model = await read(await glb())
    expect(model.parts).toEqual([{ name: 'Gull', parent: -1 }])
    expect(polygonsBySides(model.mesh)).toEqual({ 3: 1, 4: 0, more: 0 })
    expect(Array.from(model.mesh.cornerNormals.slice(0, 3))).toEqual([0, 0, 1])
  })
  it('places nodes by the matrices above them', async () => {
    const model = await read(
      await glb((d, node) => {
        const parent = d.createNode('Flock').setTranslation([10, 0, 0]).setScale([2, 2, 2])
        d.getRoot().listScenes()[0].removeChild(node).addChild(parent)
        parent.addChild(node.setTranslation([0, 1, 0]))
      }),
    )
    expect(meshBounds(model.mesh)).toEqual({ min: [10, 2, 0], max: [12, 4, 0] })
    expect(model.parts.map((p) => p.name)).toEqual(['Flock', 'Gull'])
  })
  it('keeps a mirrored node facing outward', async () => {
    const model = await read(await glb((_d, node) => void node.setScale([-1, 1, 1])))
    // Mirrored in x the triangle lies at x ≤ 0 and still looks to +Z.
    expect(meshBounds(model.mesh)?.min[0]).toBe(-1)
    expect(model.mesh.cornerNormals[2]).toBeCloseTo(1, 6)
  })
  it('draws strips and fans as triangles', async () => {
    for (const mode of [5, 6] as const) {
      const model = await read(
        await glb((d) => {
          const [primitive] = d.getRoot().listMeshes()[0].listPrimitives()
          primitive.setMode(mode).setIndices(null)
          primitive.getAttribute('POSITION')?.setArray(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0))
        }),
      )
      expect(polygonsBySides(model.mesh)[3]).toBe(2)
    }
  })
  it.each([
    ['an empty file', new Uint8Array(0), 'the file is empty'],
    ['text', new TextEncoder().encode('hello, this is not a model at all'), 'not a GLB'],
  ])('refuses %s', async (_what, bytes, reason) => {
    await expect(read(bytes)).rejects.toThrow(reason)
  })
  it('refuses a file cut short', async () => {
    const whole = await glb()
    await expect(read(whole.slice(0, whole.length - 8))).rejects.toThrow('a.glb: claims')
  })
  it.each([
    [
      'nodes in a circle',
      { nodes: [{ children: [1] }, { children: [0] }], scenes: [{ nodes: [0] }] },
      'its own ancestor',
    ],
    [
      'a child that is not there',
      { nodes: [{ children: [7] }] },
      'node 0 names a child that does not exist (7)',
    ],
    [
      'an unknown required extension',
      { extensionsRequired: ['EXT_unheard_of'] },
      'requires the extension EXT_unheard_of',
    ],
    ['version 1', { asset: { version: '1.0' } }, 'version 1.0'],
    [
      'a missing buffer',
      { buffers: [{ uri: 'far.bin', byteLength: 12 }] },
      'its buffer 0 (far.bin) is not among the files given',
    ],
    ['no geometry', { nodes: [{}], scenes: [{ nodes: [0] }] }, 'holds no usable polygon'],
  ])('refuses %s', async (_what, json, reason) => {
    await expect(read(gltf(json), 'a.gltf')).rejects.toThrow(reason)
  })
  it.each([false, true])('refuses thousands of nested nodes (listed from below: %s)', async (below) => {
    const chain = Array.from({ length: 3000 }, (_, i) => (i < 2999 ? { children: [i + 1] } : {}))
    const nodes = below ? Array.from({ length: 3000 }, (_, i) => (i > 0 ? { children: [i - 1] } : {})) : chain
    await expect(read(gltf({ nodes, scenes: [{ nodes: [0] }] }), 'a.gltf')).rejects.toThrow(
      'nested more than 512 deep',
    )
  })
  it.each([
    [
      'a gigabyte of zeros',
      { accessors: [{ componentType: 5126, type: 'VEC3', count: 1e8 }] },
      'accessor 0 claims 100000000 elements and brings none of them',
    ],
    [
      'more elements than there are bytes',
      {
        buffers: [{ byteLength: 24, uri: 'data:application/octet-stream;base64,AAAA' }],
        bufferViews: [{ buffer: 0, byteLength: 24 }],
        accessors: [{ bufferView: 0, componentType: 5126, type: 'VEC3', count: 3 }],
      },
      'accessor 0 claims 3 elements, more than its buffer view holds',
    ],
    [
      'a view past the end',
      { buffers: [{ byteLength: 8 }], bufferViews: [{ buffer: 0, byteOffset: 4, byteLength: 5 }] },
      'buffer view 0 runs past the end of buffer 0',
    ],
    [
      'a count that is no number',
      { accessors: [{ componentType: 5126, type: 'VEC3', count: 'x' }] },
      'accessors.0.count',
    ],
  ])('refuses %s', async (_what, json, reason) => {
    await expect(read(gltf(json), 'a.gltf')).rejects.toThrow(reason)
  })
  it('refuses a buffer file that is too short', async () => {
    const json = gltf({ buffers: [{ uri: 'a.bin', byteLength: 12 }] })
    const files = new Map([
      ['a.gltf', json],
      ['a.bin', new Uint8Array(5)],
    ])
    await expect(readModel(files, 'a.gltf')).rejects.toThrow('(a.bin) should hold 12 bytes and holds 5')
  })
  it('names unsupported kinds of file', async () => {
    await expect(read(new Uint8Array(4), 'a.xyz')).rejects.toThrow(
      'a.xyz: this kind of file is not supported',
    )
  })
})

import { PLYLoader } from 'three/examples/jsm/loaders/PLYLoader.js'
import { describe, expect, it } from 'vitest'
import { findLines } from '../lines/find-lines'
import { buildSceneGeometry } from '../scene/scene-geometry'
import { drawingOf } from '../testing/drawings'
import { ball, cube, fromFront, sceneModel } from '../testing/shapes'
import { readLinePly, writeLinePly } from './line-ply'

const scene = buildSceneGeometry([sceneModel(cube(), 'Block, "copper"'), sceneModel(ball(1.2, 16), 'Bøje')])
const found = findLines(scene, { ...fromFront(4), eye: [4, 3, 9] }, { width: 320, height: 200 })
const header = (bytes: Uint8Array) => new TextDecoder('latin1').decode(bytes).split('end_header\n')[0]

describe('a drawing as a PLY file', () => {
  it('comes back to the bit, names and all', () => {
    expect(found.count).toBeGreaterThan(10)
    expect(readLinePly(writeLinePly(found), 'a.ply')).toEqual(found)
    const empty = drawingOf([], ['only'])
    expect(readLinePly(writeLinePly(empty), 'a.ply')).toEqual(empty)
  })
  it('holds its points and normals where another reader looks for them', () => {
    const bytes = writeLinePly(found)
    const geometry = new PLYLoader().parse(bytes.buffer as ArrayBuffer)
    const places = geometry.getAttribute('position').array
    expect(places.length).toBe(3 * found.starts[found.count])
    for (let p = 0; p < found.starts[found.count]; p++) {
      expect([places[3 * p], places[3 * p + 1]]).toEqual([...found.points.subarray(2 * p, 2 * p + 2)])
      expect(places[3 * p + 2]).toBe(found.depths[p])
    }
    expect([...geometry.getAttribute('normal').array]).toEqual([...found.normals])
  })
  it('is read in any order of its vertices, with properties that nobody knows', () => {
    const plain = drawingOf(
      [
        {
          points: [
            [0.1, 0.2],
            [0.3, 0.4],
            [0.5, 0.2],
          ],
        },
      ],
      ['a'],
    )
    const bytes = writeLinePly(plain)
    const text = header(bytes)
    const body = bytes.slice(text.length + 'end_header\n'.length)
    // Another column behind the line's own, and its points the other way round.
    const view = new DataView(body.buffer)
    const list = 8 + 3 * 28 + 4
    for (let i = 0; i < 3; i++) view.setUint32(list + 4 * i, 2 - i, true)
    const end = list + 12 + 11
    const other = Buffer.concat([
      Buffer.from(text.replace('property uchar closed', 'property uchar closed\nproperty uchar more')),
      Buffer.from('end_header\n'),
      body.subarray(0, end),
      Buffer.from([7]),
      body.subarray(end),
    ])
    const back = readLinePly(new Uint8Array(other), 'a.ply')
    expect([...back.points]).toEqual([0.5, 0.2, 0.3, 0.4, 0.1, 0.2].map(Math.fround))
    expect(back.scene).toEqual([{ key: 'a', name: 'a' }])
  })
  it.each([
    ['ends early', (b: Uint8Array) => b.slice(0, -3), /claims more than the file holds/],
    ['is a text', () => new TextEncoder().encode('ply\nformat ascii 1.0\nend_header\n'), /not a drawing/],
    ['has no strengths', (b: Uint8Array) => renamed(b, 'strength', 'weakness'), /its vertex has no strength/],
    ['has no parts', (b: Uint8Array) => renamed(b, 'element part', 'element tree'), /no element part/],
    [
      'names a kind there is not',
      (b: Uint8Array) => patched(b, 8 + 28 * found.starts[found.count] + 4 + 4 * found.starts[1], 200),
      /a kind is not known/,
    ],
    [
      'names a vertex there is not',
      (b: Uint8Array) => patched(b, 8 + 28 * found.starts[found.count] + 7, 200),
      /vertex that is not there/,
    ],
    [
      'has a list without end',
      (b: Uint8Array) => patched(b, 8 + 28 * found.starts[found.count] + 3, 200),
      /claims more/,
    ],
  ])('is refused by name when it %s', (_what, change, reason) => {
    const bytes = change(writeLinePly(found))
    expect(() => readLinePly(bytes, 'passes/x.ply')).toThrow(reason)
    expect(() => readLinePly(bytes, 'passes/x.ply')).toThrow('passes/x.ply')
  })
})

const renamed = (bytes: Uint8Array, from: string, to: string): Uint8Array =>
  new Uint8Array(Buffer.from(Buffer.from(bytes).toString('latin1').replace(from, to), 'latin1'))

/** @param at from the end of the header. */
function patched(bytes: Uint8Array, at: number, value: number): Uint8Array {
  const out = bytes.slice()
  out[header(bytes).length + 'end_header\n'.length + at] = value
  return out
}

import { describe, expect, it } from 'vitest'
import { alongLine } from './along-line'
import type { LineDrawing } from './line-drawing'

/** A drawing of polylines. */
function drawingOf(
  lines: readonly (readonly (readonly [number, number])[])[],
  closed: readonly number[] = [],
): LineDrawing {
  const starts = [0]
  for (const line of lines) starts.push(starts[starts.length - 1] + line.length)
  const total = starts[lines.length]
  return {
    aspect: 1,
    scene: [{ key: 'p', name: 'p' }],
    count: lines.length,
    starts: Uint32Array.from(starts),
    points: Float32Array.from(lines.flat(2)),
    depths: new Float32Array(total),
    normals: new Float32Array(3 * total),
    strengths: new Float32Array(total).fill(1),
    kinds: new Uint8Array(lines.length),
    parts: new Uint32Array(lines.length),
    otherParts: new Uint32Array(lines.length),
    hidden: new Uint8Array(lines.length),
    closed: Uint8Array.from(lines, (_, i) => closed[i] ?? 0),
  }
}
const near = (found: readonly (readonly number[])[], wanted: readonly (readonly number[])[]) => {
  expect(found).toHaveLength(wanted.length)
  found.forEach(([x, y], i) => {
    expect(x).toBeCloseTo(wanted[i][0], 6)
    expect(y).toBeCloseTo(wanted[i][1], 6)
  })
}

describe('along an open line', () => {
  const drawing = drawingOf([
    [
      [0.1, 0.1],
      [0.5, 0.1],
      [0.5, 0.6],
    ],
    [
      [0.1, 0.9],
      [0.9, 0.9],
    ],
  ])
  it('goes from the nearest place to the nearest of the same line, either way', () => {
    const there = [
      [0.2, 0.1],
      [0.5, 0.1],
      [0.5, 0.4],
    ]
    near(alongLine(drawing, [0.2, 0.11], [0.53, 0.4], 0.05), there)
    near(alongLine(drawing, [0.49, 0.4], [0.2, 0.05], 0.05), [...there].reverse())
  })
  it('stays on its line where another is nearer to its end', () => {
    near(alongLine(drawing, [0.3, 0.12], [0.4, 0.89], 0.05).slice(-1), [[0.5, 0.6]])
  })
  it('finds none where none is near', () => {
    expect(alongLine(drawing, [0.3, 0.3], [0.4, 0.4], 0.05)).toEqual([])
  })
})

it('goes the shorter way about a closed line, over its seam too', () => {
  const square = drawingOf(
    [
      [
        [0.2, 0.2],
        [0.8, 0.2],
        [0.8, 0.8],
        [0.2, 0.8],
        [0.2, 0.2],
      ],
    ],
    [1],
  )
  near(alongLine(square, [0.3, 0.2], [0.2, 0.4], 0.05), [
    [0.3, 0.2],
    [0.2, 0.2],
    [0.2, 0.2],
    [0.2, 0.4],
  ])
  near(alongLine(square, [0.3, 0.2], [0.8, 0.3], 0.05), [
    [0.3, 0.2],
    [0.8, 0.2],
    [0.8, 0.3],
  ])
})

it('does not see hidden lines', () => {
  const drawing = drawingOf([
    [
      [0, 0.5],
      [1, 0.5],
    ],
  ])
  drawing.hidden[0] = 1
  expect(alongLine(drawing, [0.5, 0.5], [0.6, 0.5], 0.1)).toEqual([])
})

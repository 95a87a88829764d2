import { readFileSync, writeFileSync } from 'node:fs'
import { expect, it } from 'vitest'
import { inBlocks, TILE } from '../picture/tile-form'
import { EMPTY, KeptTiles } from '../sheet/evaluate/kept-tiles'
import { BRUSH_DEFAULTS } from './brush'
import { BrushMemory } from './brush-memory'
import { readPlace } from './paint-grid'
import { StrokePainter } from './stroke-painter'
import type { PenSample } from './stroke-walker'
import { TIPS } from './tips/registry'

/**
 * Strokes of a pen that was recorded: its moments as it told of them (place, pressure, tilt and time), and what each tip made of
 * them, as means of 16 × 16 pixels. `RELIEF_GOLDEN=write` makes them anew.
 */
const url = new URL('./golden/strokes.json', import.meta.url)
interface Golden {
  readonly pen: readonly (readonly number[])[]
  readonly made: Record<string, readonly number[]>
}
const golden = JSON.parse(readFileSync(url, 'utf8')) as Golden
const SIZE = { width: 384, height: 128 }
const BLOCK = 16

const samples = golden.pen.map(([x, y, pressure, tiltX, tiltY, at]): PenSample => ({
  x,
  y,
  pressure,
  tiltX,
  tiltY,
  twist: 0,
  at,
}))

/** Alpha of a stroke, in means of blocks; and all its bytes. */
function stroke(
  tip: (typeof TIPS)[number],
  chunk: number,
): { means: number[]; bytes: Map<string, Uint8Array> } {
  const tiles = new KeptTiles()
  const painter = new StrokePainter(
    tiles,
    new BrushMemory(tiles),
    { tip: tip.kind, seed: 2, params: { ...BRUSH_DEFAULTS, ...tip.brush, size: 36 } },
    { kind: 'paint', rgb: [0.2, 0.4, 0.6] },
    {
      grid: { ...SIZE, tiles: {} },
      outside: 0,
      base: () => ({ address: 0, flags: EMPTY }),
      within: null,
      scale: 1,
      mirrors: { x: null, y: null },
    },
    11,
  )
  for (let i = 0; i < samples.length; i += chunk) painter.add(samples.slice(i, i + chunk))
  painter.finish(samples[samples.length - 1])
  const across = SIZE.width / BLOCK
  const means = new Array<number>((across * SIZE.height) / BLOCK).fill(0)
  const bytes = new Map<string, Uint8Array>()
  for (const { place, bytes: own } of painter.results()) {
    if (!own) continue
    bytes.set(place, own)
    const [tx, ty] = readPlace(place)
    const words = new Uint16Array(own.buffer)
    for (let i = 0; i < TILE * TILE; i++) {
      const [x, y] = [tx * TILE + (i % TILE), ty * TILE + Math.floor(i / TILE)]
      if (x < SIZE.width && y < SIZE.height)
        means[Math.floor(y / BLOCK) * across + Math.floor(x / BLOCK)] +=
          words[inBlocks(i, 3)] / 65535 / BLOCK ** 2
    }
  }
  painter.close()
  return { means: means.map((v) => Math.round(1e4 * v) / 1e4), bytes }
}

if (process.env.RELIEF_GOLDEN === 'write')
  writeFileSync(
    url,
    JSON.stringify({
      pen: golden.pen,
      made: Object.fromEntries(TIPS.map((tip) => [tip.kind, stroke(tip, 5).means])),
    }),
  )

it.each(TIPS.map((tip) => [tip.kind, tip] as const))(
  'a recorded pen with %s makes the stroke it made before',
  (kind, tip) => {
    const { means, bytes } = stroke(tip, 5)
    expect(golden.made[kind]).toHaveLength(means.length)
    means.forEach((v, i) => expect(Math.abs(v - golden.made[kind][i])).toBeLessThan(0.002))
    expect(Math.max(...means)).toBeGreaterThan(0.02)
    // The same recording, the same bits, in whatever pieces it comes.
    const again = stroke(tip, 17).bytes
    expect([...again.keys()].sort()).toEqual([...bytes.keys()].sort())
    for (const [place, own] of bytes)
      expect(Buffer.from(again.get(place) ?? []).equals(Buffer.from(own))).toBe(true)
  },
)

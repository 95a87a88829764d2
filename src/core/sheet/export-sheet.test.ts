import { decode } from 'fast-png'
import { strFromU8, unzipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { fromFront, meshOf, renderPass, sceneModel } from '../testing/shapes'
import { exportSheet } from './export-sheet'
import { newLayer } from './new-layer'
import { SheetCompositor } from './sheet-compositor'
import type { Layer } from './sheet-schema'
import { sheetSchema } from './sheet-schema'

const SIZE = { width: 32, height: 20 }
const plate = sceneModel(
  meshOf([
    [
      [-9, -5, 0],
      [9, -5, 0],
      [9, 5, 0],
      [-9, 6, 0],
    ],
  ]),
  'plate',
)
const idPass = renderPass('id', [plate], fromFront(20), SIZE).result
const layer = (id: string, rest: Partial<Layer> & Pick<Layer, 'source'>): Layer =>
  newLayer({ id, name: id, ...rest })
const sheet = sheetSchema.parse({
  id: 's',
  name: 's',
  ...SIZE,
  blendSpace: 'display',
  background: '#336699',
  layers: [
    layer('base', { source: { type: 'pass', passId: 'id', look: {} }, opacity: 0.8 }),
    layer('wash', {
      source: { type: 'fill', colour: '#ff8000', to: null, angleDeg: 0 },
      confine: true,
      opacity: 0.5,
    }),
    layer('nothing to show', { source: { type: 'pass', passId: 'gone', look: {} } }),
  ],
})
const compositor = new SheetCompositor({
  pass: (id) => (id === 'id' ? idPass : null),
  picture: () => null,
  idPass: () => idPass,
})

describe('exportSheet', () => {
  it('writes an OpenRaster whose layers, put together by another, give its merged picture', () => {
    const files = unzipSync(exportSheet(sheet, compositor, 'ora', { ...SIZE, transparent: false }))
    const tags = [
      ...strFromU8(files['stack.xml']).matchAll(/name="([^"]*)" src="([^"]*)".*opacity="([^"]*)"/g),
    ]
    expect(tags.map((t) => t[1])).toEqual(['wash', 'base', 'Background'])
    const merged = decode(files['mergedimage.png'])
    for (let p = 0; p < SIZE.width * SIZE.height; p++) {
      const own = [0, 0, 0]
      for (const [, , src, opacity] of tags.slice().reverse()) {
        const { data } = decode(files[src])
        const alpha = (data[4 * p + 3] / 255) * Number(opacity)
        for (let c = 0; c < 3; c++) own[c] = data[4 * p + c] * alpha + own[c] * (1 - alpha)
      }
      for (let c = 0; c < 3; c++) expect(Math.abs(own[c] - merged.data[4 * p + c])).toBeLessThan(2)
    }
  })
  it('writes 8 and 16 bits of the same picture, and no background when asked', () => {
    const decoded = (format: 'png8' | 'png16', transparent: boolean) =>
      decode(exportSheet(sheet, compositor, format, { ...SIZE, transparent }))
    const [eight, sixteen] = [decoded('png8', false), decoded('png16', false)]
    expect([eight.depth, sixteen.depth]).toEqual([8, 16])
    for (let i = 0; i < eight.data.length; i++)
      expect(Math.abs(eight.data[i] - sixteen.data[i] / 257)).toBeLessThanOrEqual(0.51)
    const bare = decoded('png8', true)
    expect([bare.data[3], eight.data[3]]).toEqual([0, 255])
  })
})

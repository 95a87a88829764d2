import { describe, expect, it } from 'vitest'
import { KeptTiles } from './evaluate/kept-tiles'
import { wholePicture } from './evaluate/picture-rows'
import { planSheet } from './evaluate/plan-sheet'
import { SheetEvaluator } from './evaluate/sheet-evaluator'
import { withMaskSeen, type MaskSeen } from './mask-seen'
import { evenFill, newLayer, newMask, newTerm } from './new-layer'
import type { Sheet } from './sheet-schema'
import type { SheetResources } from './sheet-resources'

const resources: SheetResources = {
  pass: () => null,
  picture: () => null,
  shotPass: () => null,
  revision: () => 'none',
  shotRevision: () => 'none',
  paintTile: () => null,
  font: () => null,
}
const size = { width: 200, height: 120 }
/** A grey ground, and a layer that shows in a square from 50 to 150 and 30 to 90. */
const sheet: Sheet = {
  id: 's',
  name: 's',
  ...size,
  fit: 'extend',
  blendSpace: 'display',
  background: '#808080',
  roots: ['ground', 'layer'],
  nodes: {
    ground: newLayer({ id: 'ground', name: 'ground', content: evenFill('#4060a0') }),
    layer: newLayer({
      id: 'layer',
      name: 'layer',
      content: evenFill('#20c040'),
      mask: {
        ...newMask(),
        terms: [
          newTerm('polygon', {
            points: [
              [0.25, 0.25],
              [0.75, 0.25],
              [0.75, 0.75],
              [0.25, 0.75],
            ],
          }),
        ],
      },
    }),
  },
}
const picture = (seen: MaskSeen | null, upTo?: number) => {
  const evaluator = new SheetEvaluator(new KeptTiles(), resources)
  evaluator.begin(planSheet(seen ? withMaskSeen(sheet, 'layer', seen, upTo) : sheet, { size }, resources))
  const bytes = wholePicture(evaluator, size, 'bytes')
  return (x: number, y: number) => [...bytes.subarray(4 * (y * size.width + x), 4 * (y * size.width + x) + 3)]
}

describe('a mask as it is seen', () => {
  it('alone is white where the layer shows and black where not', () => {
    const at = picture('alone')
    expect(at(100, 60)).toEqual([255, 255, 255])
    expect(at(10, 60)).toEqual([0, 0, 0])
  })
  it('as a tint covers what it lets through, and leaves the rest as it is', () => {
    const [at, plain] = [picture('tint'), picture(null)]
    expect(at(10, 10)).toEqual(plain(10, 10))
    expect(at(100, 60)[0]).toBeGreaterThan(plain(100, 60)[0] + 60)
  })
  it('as an outline runs along the edge and nowhere else', () => {
    const [at, plain] = [picture('outline'), picture(null)]
    expect(at(100, 60)).toEqual(plain(100, 60))
    expect(at(10, 10)).toEqual(plain(10, 10))
    const along = [48, 49, 50, 51].map((x) => at(x, 60))
    expect(Math.max(...along.map(([red]) => red))).toBeGreaterThan(150)
  })
  it('is seen whatever is peeled', () => {
    expect(picture('alone', 1)(100, 60)).toEqual([255, 255, 255])
    expect(picture('tint', 1)(10, 10)).toEqual(picture(null)(10, 10))
  })
})

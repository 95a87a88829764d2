import { parseHex } from '../../math/colour'
import { dot } from '../../math/vec3'
import { lightDirection } from '../../passes/placed-light'
import { namedChannels, type PassResult } from '../../passes/pass-result'
import { decodeChannel } from '../../picture/channel'
import { inBlocks, TILE, TILE_PIXELS } from '../../picture/tile-form'
import { cameraBasis } from '../../scene/camera'
import { CAST_BLURS } from '../contents/cast-shadow'
import { passPlacement } from '../pass-placement'
import { EMPTY } from './kept-tiles'
import type { Source } from './sheet-plan'
import type { Workbench } from './workbench'

type CastSource = Extract<Source, { kind: 'cast' }>

/** Reads a tile of a source: straight display values. @returns its flags. */
export type ReadSource = (source: Source, tx: number, ty: number, to: number) => number

/** Decoded depths of passes, whole: they are looked up anywhere. */
const depths = new WeakMap<PassResult, Float32Array>()
function depthsOf(pass: PassResult): Float32Array | null {
  const known = depths.get(pass)
  if (known) return known
  const channel = namedChannels(pass).find(({ name }) => name === 'Z')
  if (!channel) return null
  const made = new Float32Array(pass.width * pass.height)
  decodeChannel(channel, 0, made.length, made)
  depths.set(pass, made)
  return made
}

/** Makes tiles of shadows that layers throw on the surfaces of their shot. */
export class CastTiles {
  constructor(
    private readonly bench: Workbench,
    private readonly read: ReadSource,
  ) {}

  /** @returns straight display RGBA of the part of a tile that lies in the picture; null for nothing. */
  make(source: CastSource, tx: number, ty: number): Float32Array | null {
    const { content, standing, levels } = source
    const { bench } = this
    const { sheet, size } = bench.planned
    const { seenBy } = sheet
    const pass = bench.resources.shotPass(sheet.shotId, 'depth')
    const far = pass && depthsOf(pass)
    if (!seenBy || !pass || !far) return null
    const fact = (name: string, fallback: number) =>
      typeof pass.facts[name] === 'number' ? (pass.facts[name] as number) : fallback
    const near = fact('near', 0)
    const span = Math.max(1e-9, fact('far', near + 1) - near)
    const plane = near + standing * span
    if (plane <= 0) return null
    const basis = cameraBasis(seenBy.camera, seenBy.frame)
    const towards = lightDirection(basis, 'camera', content.azimuthDeg, content.elevationDeg)
    const [lx, ly, lz] = [dot(towards, basis.right), dot(towards, basis.up), dot(towards, basis.back)]
    const { window } = bench.target(tx, ty)
    const placed = passPlacement(pass, size, sheet)
    const levelsOf = levels.map((level) => new AlphaField(bench, this.read, level, size))
    const perMille = size.height / 1000
    const spread = Math.tan((content.sizeDeg * Math.PI) / 360)
    const reach = (content.reach / 100) * span
    const [r, g, b] = parseHex(content.colour)
    const out = new Float32Array(4 * window.width * window.height)
    let isSeen = false
    for (let row = 0, i = 0; row < window.height; row++)
      for (let column = 0; column < window.width; column++, i++) {
        const px = window.x + column + 0.5
        const py = window.y + row + 0.5
        const u = (px - placed.x) / placed.width
        const v = (py - placed.y) / placed.height
        if (u < 0 || v < 0 || u >= 1 || v >= 1) continue
        const depth = far[Math.floor(v * pass.height) * pass.width + Math.floor(u * pass.width)]
        if (!(depth > 0) || !Number.isFinite(depth)) continue
        // The surface in camera space, and where the light that comes to it passes the layer.
        let shade = 0
        const t = lz === 0 ? -1 : (depth - plane) / lz
        if (content.strength > 0 && t > 0) {
          const along = basis.parallel ? 1 : depth
          const x = ((2 * u - 1) * basis.halfWidth + basis.centreX) * along + t * lx
          const y = ((1 - 2 * v) * basis.halfHeight + basis.centreY) * along + t * ly
          const back = basis.parallel ? 1 : plane
          const qu = ((x / back - basis.centreX) / basis.halfWidth + 1) / 2
          const qv = (1 - (y / back - basis.centreY) / basis.halfHeight) / 2
          const soft = (t * spread * placed.height) / (2 * basis.halfHeight * back)
          const alpha = blurredAt(
            levelsOf,
            placed.x + qu * placed.width,
            placed.y + qv * placed.height,
            soft / perMille,
          )
          shade = content.strength * alpha
        }
        if (content.occlusion > 0 && depth > plane && depth - plane < 4 * reach) {
          const apart = depth - plane
          const soft = (apart * placed.height) / (2 * basis.halfHeight * (basis.parallel ? 1 : plane))
          const open =
            content.occlusion *
            Math.exp(-apart / reach) *
            blurredAt(levelsOf, px, py, (0.6 * soft) / perMille + 2)
          shade += (1 - shade) * open
        }
        if (shade < 0.002) continue
        isSeen = true
        out[4 * i] = r
        out[4 * i + 1] = g
        out[4 * i + 2] = b
        out[4 * i + 3] = shade
      }
    return isSeen ? out : null
  }
}

/** How much a layer covers about a place, mixed of its two nearest blurs. @param sigma in thousandths of the height. */
function blurredAt(levels: readonly AlphaField[], x: number, y: number, sigma: number): number {
  let k = 0
  while (k < CAST_BLURS.length - 2 && sigma > CAST_BLURS[k + 1]) k++
  const share = Math.min(1, Math.max(0, (sigma - CAST_BLURS[k]) / (CAST_BLURS[k + 1] - CAST_BLURS[k])))
  const sharp = share < 1 ? levels[k].at(x, y) : 0
  return share > 0 ? sharp + (levels[k + 1].at(x, y) - sharp) * share : sharp
}

/** Alpha of a source anywhere in the picture; its tiles are read as they are asked for. */
class AlphaField {
  private readonly tiles = new Map<number, Float32Array | null>()

  constructor(
    private readonly bench: Workbench,
    private readonly read: ReadSource,
    private readonly source: Source,
    private readonly size: { readonly width: number; readonly height: number },
  ) {}

  /** Between four pixels; nothing beside the picture. */
  at(x: number, y: number): number {
    const [px, py] = [x - 0.5, y - 0.5]
    const [x0, y0] = [Math.floor(px), Math.floor(py)]
    const [fx, fy] = [px - x0, py - y0]
    const top = this.pixel(x0, y0) * (1 - fx) + this.pixel(x0 + 1, y0) * fx
    const below = this.pixel(x0, y0 + 1) * (1 - fx) + this.pixel(x0 + 1, y0 + 1) * fx
    return top * (1 - fy) + below * fy
  }

  private pixel(x: number, y: number): number {
    if (x < 0 || y < 0 || x >= this.size.width || y >= this.size.height) return 0
    const [tx, ty] = [Math.floor(x / TILE), Math.floor(y / TILE)]
    const number = ty * 8192 + tx
    let tile = this.tiles.get(number)
    if (tile === undefined) this.tiles.set(number, (tile = this.load(tx, ty)))
    return tile ? tile[(y - ty * TILE) * TILE + x - tx * TILE] : 0
  }

  private load(tx: number, ty: number): Float32Array | null {
    const { bench } = this
    const room = bench.room()
    const flags = this.read(this.source, tx, ty, room)
    let plane: Float32Array | null = null
    if (!(flags & EMPTY)) {
      const blocks = bench.tiles.floats(room, 4 * TILE_PIXELS)
      plane = Float32Array.from({ length: TILE_PIXELS }, (_, i) => blocks[inBlocks(i, 3)])
    }
    bench.release(room)
    return plane
  }
}

import { srgbToOklab } from '../../math/oklab'
import { partDepths, partsNearer, type PartDepth } from '../../passes/part-depths'
import type { PassResult } from '../../passes/pass-result'
import type { MapMeasure, NoiseRequest } from '../../passes/shot-maps'
import { inBlocks, TILE, TILE_PIXELS, WEIGHT_TILE_BYTES } from '../../picture/tile-form'
import type { PaintTarget } from '../contents/content-kind'
import { shotMapWindow } from '../shot-map-window'
import { newTerm } from '../new-layer'
import type { SurfaceTerm } from '../terms/registry'
import { EMPTY, type KeptTile } from './kept-tiles'
import { paletteWindow, surfacesWindow } from './mask-window'
import { coveredFrom, NO_RANK, partCover, type PartCover } from './part-cover'
import type { MapStep, MaskStep, Source } from './sheet-plan'
import { tileNumber, type Workbench } from './workbench'

/** Writes a tile of what a layer alone shows through its mask: premultiplied display values, blocks of f32. */
export type ReadLayer = (source: Source, mask: MaskStep | null, tx: number, ty: number, to: number) => void

/** Tiles whose parts are kept: those of a page on a screen, as it is and coarser. */
const KEPT_COVERS = 240

/** Makes and keeps the tiles of maps: an f32 a pixel, row after row. */
export class MapTiles {
  /** What all parts cover of tiles, those that were asked for last at the end. */
  private readonly covers = new Map<string, PartCover>()

  constructor(
    private readonly bench: Workbench,
    private readonly readLayer: ReadLayer,
    private readonly maskTile: (step: MaskStep, tx: number, ty: number) => KeptTile,
  ) {}

  tile(step: MapStep, tx: number, ty: number): KeptTile {
    const { bench } = this
    const key = bench.tileKey('map', step, tx, ty)
    return bench.tiles.obtain(key, tileNumber(tx, ty), WEIGHT_TILE_BYTES, (address) => {
      if (step.request.from === 'noise') {
        this.noise(step.request, tx, ty, address)
        return 0
      }
      const plane = this.made(step, tx, ty)
      if (!plane) return EMPTY
      bench.tiles.floats(address, TILE_PIXELS).set(plane)
      return 0
    })
  }

  private noise(
    { seed, octaves, across, down }: NoiseRequest,
    tx: number,
    ty: number,
    address: number,
  ): void {
    const { kernel, planned } = this.bench
    const step = 1 / planned.scale
    const [x0, y0] = [(tx * TILE + 0.5) * step, (ty * TILE + 0.5) * step]
    const points = noisePoints(planned.scale)
    kernel.noiseSquare(address, TILE, x0, y0, step, ...across, ...down, seed, octaves, points)
  }

  /** What the parts cover that are nearer than a depth. What all of them cover is kept, for the next depth. */
  private nearer(depth: number, base: string, tx: number, ty: number): Float32Array | null {
    const { bench } = this
    const { shotId } = bench.planned.sheet
    const [idPass, depthPass] = (['id', 'depth'] as const).map((kind) =>
      bench.resources.shotPass(shotId, kind),
    )
    if (!idPass || !depthPass) return null
    const target = bench.target(tx, ty)
    const parts = partDepths(idPass, depthPass)
    const cover = this.cover(`${base} ${tileNumber(tx, ty)}`, idPass, parts, target)
    // They lie in order, from the farthest: those that are nearer are the last.
    const rank = parts.length - partsNearer(parts, depth).length
    const plane = new Float32Array(TILE_PIXELS)
    const { width, height } = target.window
    for (let y = 0, pixel = 0; y < height; y++)
      for (let x = 0; x < width; x++, pixel++) plane[y * TILE + x] = coveredFrom(cover, pixel, rank)
    return plane
  }

  private cover(
    key: string,
    idPass: PassResult,
    parts: readonly PartDepth[],
    target: PaintTarget,
  ): PartCover {
    const { covers } = this
    let cover = covers.get(key)
    if (cover) covers.delete(key)
    else {
      const ranks = new Map(parts.map(({ part }, rank) => [part, rank]))
      const rankOf = Uint16Array.from(idPass.surfaces, ({ part }) => ranks.get(part) ?? NO_RANK)
      cover = partCover(idPass, rankOf, parts.length, target)
    }
    covers.set(key, cover)
    for (const oldest of covers.keys()) {
      if (covers.size <= KEPT_COVERS) break
      covers.delete(oldest)
    }
    return cover
  }

  /** Numbers of a tile, TILE to a row; null where there is nothing to make them from. */
  private made({ request, source, mask, base }: MapStep, tx: number, ty: number): Float32Array | null {
    const { bench } = this
    const plane = new Float32Array(TILE_PIXELS)
    if (request.from === 'nearer') return this.nearer(request.depth, base ?? '', tx, ty)
    if (request.from === 'shot' || request.from === 'roles' || request.from === 'palette') {
      const target = bench.target(tx, ty)
      const { shotId } = bench.planned.sheet
      const found =
        request.from === 'shot'
          ? shotMapWindow(request, target, shotId)
          : request.from === 'palette'
            ? paletteWindow(request, target, shotId)
            : surfacesWindow([rolesTerm(request.roles)], target, shotId)
      if (!found) return null
      const { width, height } = target.window
      for (let y = 0; y < height; y++) plane.set(found.subarray(y * width, (y + 1) * width), y * TILE)
      return plane
    }
    if (request.from === 'mask') {
      if (!mask) return null
      const { address, flags } = this.maskTile(mask, tx, ty)
      if (!(flags & EMPTY)) {
        const bytes = bench.tiles.bytes(address, TILE_PIXELS)
        for (let i = 0; i < TILE_PIXELS; i++) plane[i] = bytes[i] / 255
      }
      return plane
    }
    if (!source || request.from === 'noise') return null
    const room = bench.room()
    this.readLayer(source, mask, tx, ty, room)
    const blocks = bench.tiles.floats(room, 4 * TILE_PIXELS)
    const rgba: [number, number, number, number] = [0, 0, 0, 0]
    for (let i = 0; i < TILE_PIXELS; i++) {
      const at = inBlocks(i, 0)
      for (let c = 0; c < 4; c++) rgba[c] = blocks[at + 4 * c]
      plane[i] = measured(request.measure, rgba)
    }
    bench.release(room)
    return plane
  }
}

/** What is asked about a pixel. @param rgba premultiplied display values: what is not there is black. */
export function measured(
  measure: MapMeasure,
  [r, g, b, alpha]: readonly [number, number, number, number],
): number {
  if (measure === 'alpha') return alpha
  if (measure === 'brightness') return 0.3 * r + 0.59 * g + 0.11 * b
  const clip = (v: number) => (alpha > 0 ? Math.min(1, Math.max(0, v / alpha)) : 0)
  const [lightness, x, y] = srgbToOklab([clip(r), clip(g), clip(b)])
  if (measure === 'lightness') return lightness
  if (measure === 'green to red') return x
  if (measure === 'blue to yellow') return y
  if (measure === 'chroma') return Math.hypot(x, y)
  const degrees = (Math.atan2(y, x) * 180) / Math.PI
  return degrees < 0 ? degrees + 360 : degrees
}

/** Points of each axis that a pixel of noise is the mean of. */
export const noisePoints = (scale: number): number => Math.max(1, Math.min(4, Math.ceil(1 / scale - 1e-6)))

/** The term that chooses parts by their roles. */
export const rolesTerm = (roles: readonly string[]): SurfaceTerm =>
  newTerm('roles', { keys: [...roles] }) as SurfaceTerm

import { hashText } from '../../math/stable-hash'
import type { EffectWork, FastTools, Place } from '../../effects/effect-kind'
import type { RgbaPicture } from '../../picture/rgba-picture'
import { KEPT_TILE_BYTES, TILE, TILE_PIXELS } from '../../picture/tile-form'
import { EMPTY } from './kept-tiles'
import { noisePoints, type MapTiles } from './map-tiles'
import type { MaskTiles } from './mask-tiles'
import type { MaskStep, ReadyEffect, Source } from './sheet-plan'
import type { Workbench } from './workbench'

/** What effects that look beside their picture are given. */
export interface Beside {
  /** Writes a tile of another picture: straight display values, blocks of f32. */
  readonly read: (source: Source, tx: number, ty: number, to: number) => void
  readonly maps: MapTiles
}

/** Applies effects to tiles of straight display values, blocks of f32, in place. */
export class EffectTiles {
  constructor(
    private readonly bench: Workbench,
    private readonly masks: MaskTiles,
  ) {}

  /** Effects of each pixel alone, one after the other. Curves that follow each other go through one table. */
  apply(chain: readonly ReadyEffect[], tx: number, ty: number, at: number, beside: Beside): void {
    const { bench } = this
    for (let i = 0; i < chain.length;) {
      const effect = chain[i]
      const { work } = effect
      const run = curvesFrom(chain, i)
      const before = isWhole(effect) ? null : bench.room()
      if (before !== null) bench.copy(at, before)
      if (run.length > 0) this.throughCurves(run, at)
      else if (work.by === 'colour' && work.fast) {
        const weights = bench.room()
        work.fast({ ...this.tools(effect), weights }, at, TILE_PIXELS)
        bench.release(weights)
      } else if (work.by === 'colour' || work.by === 'point') {
        const isLab = work.space === 'oklab'
        if (isLab) bench.kernel.toOklab(at, TILE_PIXELS)
        if (work.by === 'colour') this.changeColours(work.change, effect.pictures, at)
        else this.changePixels(effect, work, tx, ty, at, beside)
        if (isLab) bench.kernel.fromOklab(at, TILE_PIXELS)
        else bench.kernel.clampColours(at, TILE_PIXELS)
      }
      if (before !== null) {
        this.mix(before, at, effect, tx, ty)
        bench.release(before)
      }
      i += Math.max(1, run.length)
    }
  }

  /** Takes a tile back to what it was before an effect, as far as the effect's opacity and mask say; `before` is used up. */
  mix(
    before: number,
    at: number,
    { opacity, mask }: { readonly opacity: number; readonly mask: MaskStep | null },
    tx: number,
    ty: number,
  ): void {
    const { bench } = this
    const { kernel } = bench
    const shown = mask && this.masks.tile(mask, tx, ty)
    if (shown && shown.flags & EMPTY) {
      bench.copy(before, at)
      return
    }
    const weights = bench.room()
    kernel.weighAll(weights, TILE_PIXELS, 1)
    if (shown) kernel.weighByMask(weights, shown.address, TILE_PIXELS)
    // Alpha may have changed with the colours: both are mixed, premultiplied.
    kernel.premultiply(at, at, TILE_PIXELS)
    kernel.premultiply(before, before, TILE_PIXELS)
    kernel.mixBack(at, before, weights, TILE_PIXELS, opacity)
    kernel.straighten(at, at, TILE_PIXELS)
    bench.release(weights)
  }

  private throughCurves(run: readonly ReadyEffect[], at: number): void {
    const { kernel, tiles } = this.bench
    const name = hashText(run.map((effect) => effect.key).join())
    const isEach = run.some(({ work }) => work.by === 'tone' && work.isEach)
    const [red, green, blue] = (isEach ? [0, 1, 2] : [0, 0, 0]).map((channel) =>
      // 65,536 u16.
      tiles.obtain(this.bench.key(`table ${channel}`, name), 0, KEPT_TILE_BYTES, (address) => {
        const words = new Uint16Array(tiles.memory.buffer, address, 65536)
        for (let i = 0; i < words.length; i++) {
          let value = i / 65535
          for (const { work } of run)
            if (work.by === 'tone') value = Math.min(1, Math.max(0, work.curve(value, channel)))
          words[i] = Math.round(65535 * value)
        }
        return 0
      }),
    )
    kernel.throughTables(at, TILE_PIXELS, red.address, green.address, blue.address)
  }

  private tools({ key, pictures, pictureKey }: ReadyEffect): Omit<FastTools, 'weights'> {
    const { kernel, tiles, resources } = this.bench
    const own = key + pictureKey
    return {
      kernel,
      pictures: pictures.map((id) => resources.picture(id)),
      table: (name, length, fill) =>
        tiles.obtain(this.bench.key(`fast ${name}`, hashText(own)), 0, 4 * length, (address) => {
          fill(tiles.floats(address, length))
          return 0
        }).address,
    }
  }

  private changeColours(
    change: (rgb: Float64Array, pictures: readonly (RgbaPicture | null)[]) => void,
    ids: readonly string[],
    at: number,
  ): void {
    const pictures = ids.map((id) => this.bench.resources.picture(id))
    const pixels = this.bench.tiles.floats(at, 4 * TILE_PIXELS)
    const rgb = new Float64Array(3)
    for (let block = 0; block < pixels.length; block += 16) {
      for (let i = block; i < block + 4; i++) {
        rgb[0] = pixels[i]
        rgb[1] = pixels[i + 4]
        rgb[2] = pixels[i + 8]
        change(rgb, pictures)
        pixels[i] = rgb[0]
        pixels[i + 4] = rgb[1]
        pixels[i + 8] = rgb[2]
      }
    }
  }

  private changePixels(
    { beside, maps }: ReadyEffect,
    { isHeavy, change, fast }: Extract<EffectWork, { by: 'point' }>,
    tx: number,
    ty: number,
    at: number,
    around: Beside,
  ): void {
    const { bench } = this
    const { scale, sheet, isDraft } = bench.planned
    // Made first: memory may grow while they are.
    const rooms = beside.map((source) => {
      const room = bench.room()
      around.read(source, tx, ty, room)
      return room
    })
    const mapTiles = maps.map((map) => around.maps.tile(map, tx, ty))
    if (fast) {
      const weights = bench.room()
      const [x, y] = [(tx * TILE + 0.5) / scale, (ty * TILE + 0.5) / scale]
      const { width, height } = sheet
      fast(bench.kernel, {
        ...{ blocks: at, count: TILE_PIXELS, side: TILE, x, y, step: 1 / scale, width, height, weights },
        maps: mapTiles.map(({ address, flags }) => (flags & EMPTY ? 0 : address)),
        beside: rooms,
      })
      bench.release(weights, ...rooms)
      return
    }
    const pixels = bench.tiles.floats(at, 4 * TILE_PIXELS)
    const others = rooms.map((room) => bench.tiles.floats(room, 4 * TILE_PIXELS))
    const planes = mapTiles.map(({ address, flags }) =>
      flags & EMPTY ? null : bench.tiles.floats(address, TILE_PIXELS),
    )
    const rgba = new Float64Array(4)
    const place: Place = {
      x: 0,
      y: 0,
      width: sheet.width,
      height: sheet.height,
      scale,
      points: isDraft && isHeavy ? 1 : noisePoints(scale),
      maps: new Float64Array(maps.length),
      beside: beside.map(() => new Float64Array(4)),
    }
    const last = bench.lastOf(tx, ty)
    for (let y = 0; y <= last.y; y++) {
      place.y = (ty * TILE + y + 0.5) / scale
      for (let x = 0; x <= last.x; x++) {
        const i = y * TILE + x
        const p = 16 * (i >> 2) + (i & 3)
        place.x = (tx * TILE + x + 0.5) / scale
        for (let m = 0; m < planes.length; m++) place.maps[m] = planes[m]?.[i] ?? NaN
        for (let k = 0; k < others.length; k++) {
          const [own, from] = [place.beside[k], others[k]]
          own[0] = from[p]
          own[1] = from[p + 4]
          own[2] = from[p + 8]
          own[3] = from[p + 12]
        }
        rgba[0] = pixels[p]
        rgba[1] = pixels[p + 4]
        rgba[2] = pixels[p + 8]
        rgba[3] = pixels[p + 12]
        change(rgba, place)
        pixels[p] = rgba[0]
        pixels[p + 4] = rgba[1]
        pixels[p + 8] = rgba[2]
        pixels[p + 12] = Math.min(1, Math.max(0, rgba[3]))
      }
    }
    bench.release(...rooms)
  }
}

const isWhole = ({ opacity, mask }: ReadyEffect): boolean => opacity === 1 && mask === null

/** The curves that go through one table from a place of a list on: one that is mixed goes alone. */
function curvesFrom(chain: readonly ReadyEffect[], from: number): readonly ReadyEffect[] {
  let end = from
  while (
    end < chain.length &&
    chain[end].work.by === 'tone' &&
    (end === from || (isWhole(chain[from]) && isWhole(chain[end])))
  )
    end++
  return chain.slice(from, end)
}

import { hashText } from '../../math/stable-hash'
import { KEPT_TILE_BYTES, TILE_PIXELS } from '../../picture/tile-form'
import { EMPTY } from './kept-tiles'
import type { MaskTiles } from './mask-tiles'
import type { MaskStep, ReadyEffect } from './plan-sheet'
import type { Workbench } from './workbench'

/** Applies effects to tiles of straight display values, blocks of f32, in place. */
export class EffectTiles {
  constructor(
    private readonly bench: Workbench,
    private readonly masks: MaskTiles,
  ) {}

  /** Effects of each pixel alone, one after the other. Curves that follow each other go through one table. */
  apply(chain: readonly ReadyEffect[], tx: number, ty: number, at: number): void {
    const { bench } = this
    for (let i = 0; i < chain.length;) {
      const effect = chain[i]
      const run = curvesFrom(chain, i)
      const before = isWhole(effect) ? null : bench.room()
      if (before !== null) bench.copy(at, before)
      if (run.length > 0) this.throughCurves(run, at)
      else if (effect.work.by === 'colour') this.changeColours(effect.work.change, at)
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
    const key = this.bench.key('table', hashText(run.map((effect) => effect.key).join()))
    // 65,536 u16.
    const table = tiles.obtain(key, 0, KEPT_TILE_BYTES, (address) => {
      const words = new Uint16Array(tiles.memory.buffer, address, 65536)
      for (let i = 0; i < words.length; i++) {
        let value = i / 65535
        for (const { work } of run)
          if (work.by === 'tone') value = Math.min(1, Math.max(0, work.curve(value)))
        words[i] = Math.round(65535 * value)
      }
      return 0
    })
    kernel.throughTable(at, TILE_PIXELS, table.address)
  }

  private changeColours(change: (rgb: Float64Array) => void, at: number): void {
    const pixels = this.bench.tiles.floats(at, 4 * TILE_PIXELS)
    const rgb = new Float64Array(3)
    for (let block = 0; block < pixels.length; block += 16) {
      for (let i = block; i < block + 4; i++) {
        rgb[0] = pixels[i]
        rgb[1] = pixels[i + 4]
        rgb[2] = pixels[i + 8]
        change(rgb)
        pixels[i] = rgb[0]
        pixels[i + 4] = rgb[1]
        pixels[i + 8] = rgb[2]
      }
    }
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

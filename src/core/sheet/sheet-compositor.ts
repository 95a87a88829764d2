import { linearToSrgbFast, parseHex, srgbToLinear } from '../math/colour'
import { hashJson } from '../math/stable-hash'
import type { RgbaPicture } from '../picture/rgba-picture'
import { compositeLayer } from './composite-layer'
import type { RenderSize, SheetResources } from './sheet-resources'
import { MaskKeeper } from './mask-plane'
import { resolveLayer } from './resolve-layer'
import type { Layer, Sheet } from './sheet-schema'

export interface ComposeOptions {
  readonly size: RenderSize
  /** Leave this layer out, as if hidden. */
  readonly without?: string | null
  /** Compose only the first so many layers from the back (the peel). */
  readonly upTo?: number
  /** Leave the sheet's background out. */
  readonly transparent?: boolean
  /** Called before each layer, with how many are done. */
  readonly onLayer?: (done: number, total: number) => void
}

interface Snapshot {
  /** Keys of the layers already in it, joined with size and space. */
  readonly keys: readonly string[]
  readonly pixels: Float32Array
}

/**
 * Composites sheets in 32-bit float. What a layer shows is kept until its content changes; what lies below the layer
 * at work is kept too, so a change of opacity or mode costs only the layers from there to the front.
 */
export class SheetCompositor {
  private readonly resolved = new Map<
    string,
    { key: string; picture: RgbaPicture | null; linear: Float32Array | null }
  >()
  private readonly masks = new MaskKeeper()
  private below: Snapshot | null = null
  private lastKeys: readonly string[] = []

  /**
   * @param revisionOf changes whenever the pixels behind a source change (a pass rendered again): part of every key.
   */
  constructor(
    private readonly resources: SheetResources,
    private readonly revisionOf: (layer: Layer, sheet: Sheet) => string = () => '',
    /** Whether to keep what layers show. Not for one large picture: kept, its layers would fill the memory. */
    private readonly keep = true,
  ) {}

  /** What one layer alone shows, before mode and opacity; null where its source is missing. */
  layerPicture(layer: Layer, sheet: Sheet, size: RenderSize): RgbaPicture | null {
    return this.entry(layer, sheet, size).picture
  }

  /**
   * What one layer shows with what confines it made part of its alpha: for files whose readers do not know *confine*.
   * Null where its source is missing or where nothing of it can be seen.
   */
  confinedPicture(sheet: Sheet, index: number, size: RenderSize): RgbaPicture | null {
    const layer = sheet.layers[index]
    const picture = this.layerPicture(layer, sheet, size)
    if (!picture || !layer.confine) return picture
    const confineTo = this.confinement(sheet, index, size, null)
    if (!confineTo) return null
    const pixels = new Float32Array(picture.pixels)
    for (let p = 0; p < confineTo.length; p++) pixels[4 * p + 3] *= confineTo[p]
    return { ...picture, pixels }
  }

  /** Forgets layers that are not in the sheet any more. */
  keepOnly(sheet: Sheet): void {
    const ids = new Set(sheet.layers.map((l) => l.id))
    for (const id of this.resolved.keys()) if (!ids.has(id)) this.resolved.delete(id)
    this.masks.keepOnly(sheet)
  }

  /** The proof: Float32Array, 4·width·height, premultiplied display values. */
  compose(sheet: Sheet, options: ComposeOptions): Float32Array {
    const { size } = options
    const shown = sheet.layers
      .slice(0, options.upTo ?? sheet.layers.length)
      .map((layer, index) => ({ layer, index }))
      .filter(({ layer }) => layer.visible && layer.opacity > 0 && layer.id !== options.without)
    const ground = options.transparent ? null : sheet.background
    const keys = [
      `${size.width}×${size.height} ${sheet.blendSpace} ${ground}`,
      ...shown.map(({ layer, index }) =>
        this.compositeKey(layer, index, sheet, size, options.without ?? null),
      ),
    ]

    // 1. Start from the snapshot where it still holds.
    let start = 0
    let pixels: Float32Array
    if (this.below && this.below.keys.every((key, i) => key === keys[i])) {
      start = this.below.keys.length - 1
      pixels = new Float32Array(this.below.pixels)
    } else {
      pixels = new Float32Array(4 * size.width * size.height)
      if (ground) {
        const [r, g, b, a] = parseHex(ground)
        const encode = sheet.blendSpace === 'linear' ? srgbToLinear : (v: number) => v
        const colour = [encode(r) * a, encode(g) * a, encode(b) * a, a]
        for (let i = 0; i < pixels.length; i++) pixels[i] = colour[i & 3]
      }
    }

    // 2. The first layer that differs from last time is the one at work: keep what lies below it.
    let changed = keys.findIndex((key, i) => key !== this.lastKeys[i])
    if (changed < 0) changed = keys.length - 1
    for (let i = start; i < shown.length; i++) {
      if (this.keep && i > start && i + 1 === changed)
        this.below = { keys: keys.slice(0, i + 1), pixels: new Float32Array(pixels) }
      options.onLayer?.(i, shown.length)
      const { layer, index } = shown[i]
      const entry = this.entry(layer, sheet, size)
      if (!entry.picture) continue
      const confineTo = layer.confine ? this.confinement(sheet, index, size, options.without ?? null) : null
      if (layer.confine && !confineTo) continue
      compositeLayer(pixels, this.inBlendSpace(entry, sheet), layer.mode, layer.opacity, confineTo)
    }
    this.lastKeys = keys

    // 3. Back to display values.
    if (sheet.blendSpace === 'linear') {
      for (let i = 0; i < pixels.length; i += 4) {
        const alpha = pixels[i + 3]
        if (alpha === 0) continue
        for (let c = i; c < i + 3; c++) pixels[c] = linearToSrgbFast(pixels[c] / alpha) * alpha
      }
    }
    return pixels
  }

  /** Alpha of the nearest layer beneath that is not itself confined; null where that layer is not shown. */
  private confinement(
    sheet: Sheet,
    index: number,
    size: RenderSize,
    without: string | null,
  ): Float32Array | null {
    for (let i = index - 1; i >= 0; i--) {
      const base = sheet.layers[i]
      if (base.confine) continue
      if (!base.visible || base.id === without) return null
      const picture = this.layerPicture(base, sheet, size)
      if (!picture) return null
      const alpha = new Float32Array(size.width * size.height)
      for (let p = 0; p < alpha.length; p++) alpha[p] = picture.pixels[4 * p + 3] * base.opacity
      return alpha
    }
    return null
  }

  private inBlendSpace(
    entry: { picture: RgbaPicture | null; linear: Float32Array | null },
    sheet: Sheet,
  ): Float32Array {
    const straight = entry.picture?.pixels ?? new Float32Array(0)
    if (sheet.blendSpace === 'display') return straight
    if (!entry.linear) {
      entry.linear = new Float32Array(straight)
      for (let i = 0; i < straight.length; i++) if ((i & 3) !== 3) entry.linear[i] = srgbToLinear(straight[i])
    }
    return entry.linear
  }

  private entry(layer: Layer, sheet: Sheet, size: RenderSize) {
    const key = this.contentKey(layer, sheet, size)
    const known = this.resolved.get(layer.id)
    if (known?.key === key) return known
    const made = {
      key,
      picture: resolveLayer(layer, sheet, this.resources, size, this.keep ? this.masks : undefined),
      linear: null,
    }
    if (this.keep) this.resolved.set(layer.id, made)
    return made
  }

  /** Changes when what the layer shows changes; used for thumbnails too. */
  contentKey(layer: Layer, sheet: Sheet, size: RenderSize): string {
    const { source, mask, effects } = layer
    return hashJson([
      source,
      mask,
      effects,
      sheet.fit,
      sheet.width,
      sheet.height,
      size.width,
      size.height,
      this.revisionOf(layer, sheet),
    ])
  }

  private compositeKey(
    layer: Layer,
    index: number,
    sheet: Sheet,
    size: RenderSize,
    without: string | null,
  ): string {
    const beneath = layer.confine
      ? sheet.layers
          .slice(0, index)
          .map((l) => `${l.visible && l.id !== without} ${l.opacity} ${this.contentKey(l, sheet, size)}`)
      : null
    return hashJson([
      layer.id,
      layer.mode,
      layer.opacity,
      layer.confine,
      beneath,
      this.contentKey(layer, sheet, size),
    ])
  }
}

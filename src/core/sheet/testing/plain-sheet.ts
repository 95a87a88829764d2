import type { EffectWork } from '../../effects/effect-kind'
import { growShrink } from '../../effects/grow-shrink'
import { effectKind } from '../../effects/registry'
import { linearToSrgb, parseHex, srgbToLinear } from '../../math/colour'
import { cloudNoise } from '../../math/noise'
import { oklabToSrgb, srgbToOklab } from '../../math/oklab'
import type { MapRequest, NoiseRequest } from '../../passes/shot-maps'
import { gaussianBlur } from '../../picture/gaussian-blur'
import type { PaintTarget } from '../contents/content-kind'
import { paintContent } from '../contents/registry'
import { KeptTiles } from '../evaluate/kept-tiles'
import { measured, noisePoints, rolesTerm } from '../evaluate/map-tiles'
import {
  joinPlane,
  nearerWindow,
  paletteWindow,
  runWindow,
  surfacesWindow,
  termRuns,
} from '../evaluate/mask-window'
import { isPassThrough } from '../evaluate/plan-sheet'
import { plainGate, plainMixBack, plainOver, plainTone, plainWithin, type Pixel } from '../plain-compositing'
import { shotMapWindow } from '../shot-map-window'
import type { RenderSize, SheetResources } from '../sheet-resources'
import { termMaps } from '../terms/registry'
import { hasContent, type Mask, type Sheet, type SheetEffect, type SheetNode } from '../sheet-schema'

/**
 * A sheet as its definition is written: whole pictures, layer after layer, in double precision, nothing kept. What the
 * evaluator is held to.
 */
export class PlainSheet {
  private readonly count: number
  private readonly target: PaintTarget
  private readonly isLinear: boolean

  constructor(
    private readonly sheet: Sheet,
    private readonly size: RenderSize,
    resources: SheetResources,
  ) {
    this.count = size.width * size.height
    this.isLinear = sheet.blendSpace === 'linear'
    const window = { x: 0, y: 0, ...size }
    this.target = { window, view: size, sheet, resources }
  }

  /** Premultiplied display values. */
  picture(): Pixel[] {
    const [r, g, b, a] = this.sheet.background ? parseHex(this.sheet.background) : [0, 0, 0, 0]
    const into = (v: number) => (this.isLinear ? srgbToLinear(v) : v) * a
    const ground: Pixel = [into(r), into(g), into(b), a]
    const made = this.compose(this.sheet.roots, Array<Pixel>(this.count).fill(ground))
    return this.isLinear ? made.map((pixel) => changed(pixel, linearToSrgb)) : made
  }

  /** What lies beneath the layer at work; null where that is not known. */
  private beneath: readonly Pixel[] | null = null

  private compose(ids: readonly string[], ground: readonly Pixel[]): Pixel[] {
    const outer = this.beneath
    let now = [...ground]
    ids.forEach((id, index) => {
      this.beneath = now
      const node = this.sheet.nodes[id]
      if (!node.visible || node.opacity === 0) return
      const base = node.confine ? this.base(ids, index) : null
      if (node.confine && !base) return
      const mask = this.mask(node.mask)
      const weight = (p: number, own: Pixel | null, beneath: Pixel) => {
        const tone = (pixel: Pixel) => plainTone(straight(pixel), this.isLinear)
        const { gate } = node
        return (
          node.opacity *
          (mask ? mask[p] : 1) *
          (base ? base[p] : 1) *
          (gate?.own && own ? plainGate(gate.own, tone(own)) : 1) *
          (gate?.beneath ? plainGate(gate.beneath, tone(beneath)) : 1)
        )
      }
      const before = now
      if (hasContent(node, 'group') && isPassThrough(node)) {
        const after = this.compose(node.content.children, before)
        now = after.map((pixel, p) => plainMixBack(before[p], pixel, weight(p, pixel, before[p])))
      } else if (hasContent(node, 'wash')) {
        const shown = this.inBlendSpace(this.effects(node.effects, before.map(this.shown)))
        now = before.map((pixel, p) => {
          const [r, g, b] = straight(shown[p])
          const own: Pixel = [r, g, b, 1]
          return plainWithin(node.mode, pixel, own, weight(p, own, pixel))
        })
      } else {
        const shown = this.layer(node)
        if (!shown) return
        now = before.map((pixel, p) => {
          const [r, g, b] = straight(shown[p])
          return plainOver(node.mode, pixel, [r, g, b, shown[p][3]], weight(p, shown[p], pixel))
        })
      }
    })
    this.beneath = outer
    return now
  }

  /** A pixel of the blend space as display values. Premultiplied both. */
  private readonly shown = (pixel: Pixel): Pixel => (this.isLinear ? changed(pixel, linearToSrgb) : pixel)

  private inBlendSpace(pixels: readonly Pixel[]): Pixel[] {
    return this.isLinear ? pixels.map((pixel) => changed(pixel, srgbToLinear)) : [...pixels]
  }

  /** What a layer shows through its effects: premultiplied, in the blend space. */
  private layer(node: SheetNode): Pixel[] | null {
    if (hasContent(node, 'group')) {
      const clear = Array<Pixel>(this.count).fill([0, 0, 0, 0])
      const made = this.compose(node.content.children, clear)
      return this.inBlendSpace(this.effects(node.effects, made.map(this.shown)))
    }
    const painted = paintContent(node.content, this.target)
    if (!painted) return null
    const pixels = Array.from({ length: this.count }, (_, p): Pixel => {
      const a = painted[4 * p + 3]
      return [painted[4 * p] * a, painted[4 * p + 1] * a, painted[4 * p + 2] * a, a]
    })
    return this.inBlendSpace(this.effects(node.effects, pixels))
  }

  private effects(list: readonly SheetEffect[], given: readonly Pixel[]): Pixel[] {
    let now = [...given]
    for (const effect of list) {
      if (!effect.enabled) continue
      const before = now
      now = this.worked(effectKind(effect.kind).work(effect.params), before)
      const mask = this.mask(effect.mask)
      now = now.map((pixel, p) => plainMixBack(before[p], pixel, effect.opacity * (mask ? mask[p] : 1)))
    }
    return now
  }

  private worked(work: EffectWork, before: readonly Pixel[]): Pixel[] {
    const { width, height } = this.size
    const scale = width / this.sheet.width
    switch (work.by) {
      case 'blur': {
        const planes = [0, 1, 2, 3].map((c) => Float32Array.from(before, (pixel) => pixel[c]))
        for (const plane of planes) gaussianBlur(plane, width, height, work.sigmaPx * scale)
        return before.map((_, p): Pixel => [planes[0][p], planes[1][p], planes[2][p], planes[3][p]])
      }
      case 'area':
        return this.about(work, before)
      case 'point': {
        const beside = (work.beside ?? []).map((works) =>
          works.reduce<Pixel[]>((made, one) => this.worked(one, made), [...before]),
        )
        const planes = (work.maps ?? []).map((request) => this.map(request))
        return before.map((pixel, p) => {
          const rgba = Float64Array.from([...straight(pixel), pixel[3]])
          if (work.space) rgba.set(srgbToOklab([rgba[0], rgba[1], rgba[2]]))
          work.change(rgba, {
            x: ((p % width) + 0.5) / scale,
            y: (Math.floor(p / width) + 0.5) / scale,
            width: this.sheet.width,
            height: this.sheet.height,
            scale,
            points: noisePoints(scale),
            maps: Float64Array.from(planes, (plane) => plane?.[p] ?? NaN),
            beside: beside.map((made) => Float64Array.from([...straight(made[p]), made[p][3]])),
          })
          if (work.space) rgba.set(oklabToSrgb([rgba[0], rgba[1], rgba[2]]))
          const [r, g, b, a] = rgba.map(clamped)
          return [r * a, g * a, b * a, a]
        })
      }
      default: {
        const ids = work.by === 'colour' ? (work.pictures ?? []) : []
        const pictures = ids.map((id) => this.target.resources.picture(id))
        return before.map((pixel) => {
          const rgb = Float64Array.from(straight(pixel))
          if (work.by === 'tone') rgb.forEach((v, c) => (rgb[c] = clamped(work.curve(clamped(v), c))))
          else {
            if (work.space) rgb.set(srgbToOklab([rgb[0], rgb[1], rgb[2]]))
            work.change(rgb, pictures)
            if (work.space) rgb.set(oklabToSrgb([rgb[0], rgb[1], rgb[2]]))
          }
          const a = pixel[3]
          return [clamped(rgb[0]) * a, clamped(rgb[1]) * a, clamped(rgb[2]) * a, a]
        })
      }
    }
  }

  /** The whole picture as one window. */
  private about(work: Extract<EffectWork, { by: 'area' }>, before: readonly Pixel[]): Pixel[] {
    const { width, height } = this.size
    const scale = width / this.sheet.width
    const reach = Math.max(0, Math.ceil(work.reach(scale, this.size)))
    const [across, down] = [width + 2 * reach, height + 2 * reach]
    const tiles = new KeptTiles()
    const [inputAt, outAt] = [tiles.take(16 * across * down), tiles.take(16 * width * height)]
    const numbers = (address: number, length: number) => tiles.floats(address, length)
    const near = (at: number, length: number) => Math.min(length - 1, Math.max(0, at))
    const placeOf = (i: number) =>
      near(Math.floor(i / across) - reach, height) * width + near((i % across) - reach, width)
    for (let i = 0; i < across * down; i++) numbers(inputAt + 16 * i, 4).set(before[placeOf(i)])
    const planes = (work.maps ?? []).map((request) => {
      const plane = this.map(request)
      return Float32Array.from({ length: across * down }, (_, i) => plane?.[placeOf(i)] ?? NaN)
    })
    work.apply({
      window: { x: 0, y: 0, width, height },
      view: this.size,
      scale,
      reach,
      input: inputAt,
      out: outAt,
      kernel: tiles.kernel,
      room: (bytes) => tiles.take(bytes),
      numbers,
      map: (index) => planes[index],
    })
    const out = numbers(outAt, 4 * width * height)
    return before.map((_, p): Pixel => [out[4 * p], out[4 * p + 1], out[4 * p + 2], out[4 * p + 3]])
  }

  /** What a map says of every pixel; null where there is nothing to make it from. */
  private map(request: MapRequest): Float32Array | null {
    if (request.from === 'shot') return shotMapWindow(request, this.target, this.sheet.shotId)
    if (request.from === 'roles')
      return surfacesWindow([rolesTerm(request.roles)], this.target, this.sheet.shotId)
    if (request.from === 'palette') return paletteWindow(request, this.target, this.sheet.shotId)
    if (request.from === 'nearer') return nearerWindow(request.depth, this.target, this.sheet.shotId)
    if (request.from === 'noise') return this.noise(request)
    if (request.from === 'beneath')
      return (
        this.beneath &&
        Float32Array.from(this.beneath, (pixel) => measured(request.measure, this.shown(pixel)))
      )
    const node = this.sheet.nodes[request.id] as SheetNode | undefined
    const { beneath } = this
    this.beneath = null
    const shown = request.from === 'layer' && node ? this.layer(node) : null
    const mask = node ? this.mask(node.mask) : null
    this.beneath = beneath
    if (request.from === 'mask') return mask
    return (
      shown &&
      Float32Array.from(shown, (pixel, p) => {
        const seen = this.shown(pixel).map((v) => v * (mask ? mask[p] : 1))
        return measured(request.measure, [seen[0], seen[1], seen[2], seen[3]])
      })
    )
  }

  private noise({ seed, octaves, across, down }: NoiseRequest): Float32Array {
    const { width } = this.size
    const scale = width / this.sheet.width
    const points = noisePoints(scale)
    const step = 1 / (scale * points)
    return Float32Array.from({ length: this.count }, (_, p) => {
      let sum = 0
      for (let k = 0; k < points * points; k++) {
        const x = ((p % width) + 0.5) / scale + ((k % points) - (points - 1) / 2) * step
        const y = (Math.floor(p / width) + 0.5) / scale + (Math.floor(k / points) - (points - 1) / 2) * step
        sum += cloudNoise(across[0] * x + across[1] * y, down[0] * x + down[1] * y, seed, octaves)
      }
      return sum / (points * points)
    })
  }

  private mask(mask: Mask | null): Float32Array | null {
    if (!mask) return null
    const scale = this.size.width / this.sheet.width
    const blur = (plane: Float32Array, sigmaPx: number) =>
      gaussianBlur(plane, this.size.width, this.size.height, sigmaPx * scale)
    let made: Float32Array | null = null
    for (const run of termRuns(mask.terms)) {
      const given = runWindow(run, this.target, this.sheet.shotId, (term) =>
        termMaps(term).map((request) => this.map(request) ?? new Float32Array(this.count).fill(NaN)),
      )
      if (!given) continue
      const plane = run.growPx === 0 ? given : this.grown(given, run.growPx)
      blur(plane, run.featherPx)
      const joined = plane.map((v) => (run.invert ? 1 - v : v) * run.strength)
      made ??= new Float32Array(this.count).fill(run.join === 'add' ? 0 : 1)
      joinPlane(made, joined, run.join)
    }
    if (!made) return null
    blur(made, mask.featherPx)
    const shown = mask.invert ? made.map((v) => 1 - v) : made
    if (mask.effects.length === 0) return shown
    const grey = this.effects(
      mask.effects,
      [...shown].map((v): Pixel => [v, v, v, 1]),
    )
    return Float32Array.from(grey, ([r, g, b]) => 0.3 * r + 0.59 * g + 0.11 * b)
  }

  private grown(plane: Float32Array, radius: number): Float32Array {
    const work = growShrink.work({ radius })
    const pixels = [...plane].map((v): Pixel => [v, v, v, v])
    return Float32Array.from(this.worked(work, pixels), ([, , , a]) => a)
  }

  /** What a confined layer is weighed by; null where that layer is not shown. */
  private base(ids: readonly string[], index: number): Float32Array | null {
    const found = ids
      .slice(0, index)
      .map((id) => this.sheet.nodes[id])
      .reverse()
      .find((node) => !node.confine && !hasContent(node, 'wash'))
    if (!found?.visible || found.opacity === 0) return null
    const shown = this.layer(found)
    const mask = this.mask(found.mask)
    return shown && Float32Array.from(shown, (pixel, p) => pixel[3] * found.opacity * (mask ? mask[p] : 1))
  }
}

const clamped = (v: number): number => Math.min(1, Math.max(0, v))
const straight = ([r, g, b, a]: Pixel): readonly [number, number, number] =>
  a > 0 ? [r / a, g / a, b / a] : [0, 0, 0]
/** A premultiplied pixel with its straight values changed. */
function changed(pixel: Pixel, change: (v: number) => number): Pixel {
  const [r, g, b] = straight(pixel)
  const a = pixel[3]
  return [change(clamped(r)) * a, change(clamped(g)) * a, change(clamped(b)) * a, a]
}

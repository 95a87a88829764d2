import { z } from 'zod'
import { srgbToOklab } from '../math/oklab'
import { gridNoise } from '../math/noise'
import type { MapRequest } from '../passes/shot-maps'
import { choiceParam, numberParam } from '../params'
import { defineEffect } from './effect-kind'

/**
 * Sorts runs of pixels along lines at an angle: those whose brightness lies in a range, up to some length. Lines are pixels one step
 * along the longer axis each, so that every pixel lies in one.
 */
export const pixelSort = defineEffect({
  kind: 'pixelSort',
  version: 1,
  label: 'Pixel sort',
  group: 'Play',
  summary: 'Runs of pixels put in order, by brightness, hue or depth.',
  schema: z.object({
    by: choiceParam({
      label: 'In order of',
      options: { brightness: 'Brightness', hue: 'Hue', depth: 'Depth' },
      default: 'brightness',
    }),
    angleDeg: numberParam({ label: 'Angle', unit: '°', min: -180, max: 180, step: 1, default: 90 }),
    from: numberParam({ label: 'From brightness', min: 0, max: 1, step: 0.01, default: 0.25 }),
    to: numberParam({ label: 'To brightness', min: 0, max: 1, step: 0.01, default: 0.85 }),
    length: numberParam({
      label: 'Longest run',
      unit: 'px',
      min: 2,
      max: 400,
      step: 1,
      default: 120,
      logarithmic: true,
    }),
    seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
  }),
  work({ by, angleDeg, from, to, length, seed }) {
    const angle = (angleDeg * Math.PI) / 180
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
    const isAcross = Math.abs(cos) >= Math.abs(sin)
    const slope = isAcross ? sin / cos : cos / sin
    const isBackward = isAcross ? cos < 0 : sin < 0
    const maps: readonly MapRequest[] = by === 'depth' ? [{ from: 'shot', map: 'depth', id: '' }] : []
    return {
      by: 'area',
      reach: (scale) => Math.ceil(length * scale) + 2,
      maps,
      apply({ window, reach, scale, input, out, numbers, map }) {
        const across = window.width + 2 * reach
        const down = window.height + 2 * reach
        const pixels = numbers(input, 4 * across * down)
        const made = numbers(out, 4 * window.width * window.height)
        const depth = maps.length > 0 ? map(0) : null
        const longest = Math.max(2, Math.round(length * scale))
        // Along the longer axis `m`, across it `k`; absolute pixels of the view.
        const [m0, k0] = isAcross ? [window.x, window.y] : [window.y, window.x]
        const [mCount, kCount] = isAcross ? [window.width, window.height] : [window.height, window.width]
        const offset = (m: number) => Math.round(m * slope)
        const pixelOf = (m: number, k: number): number => {
          const [x, y] = isAcross ? [m, k] : [k, m]
          return (y - window.y + reach) * across + (x - window.x + reach)
        }
        const key = (p: number): number => {
          const a = Math.max(1e-6, pixels[4 * p + 3])
          const [r, g, b] = [pixels[4 * p] / a, pixels[4 * p + 1] / a, pixels[4 * p + 2] / a]
          if (by === 'hue') {
            const [, x, y] = srgbToOklab([Math.min(1, r), Math.min(1, g), Math.min(1, b)])
            return Math.atan2(y, x)
          }
          return depth ? depth[p] || 0 : 0.3 * r + 0.59 * g + 0.11 * b
        }
        const isIn = (p: number): boolean => {
          const a = pixels[4 * p + 3]
          if (a < 0.5) return false
          const tone = (0.3 * pixels[4 * p] + 0.59 * pixels[4 * p + 1] + 0.11 * pixels[4 * p + 2]) / a
          return tone >= from && tone <= to
        }
        const write = (m: number, k: number, p: number) => {
          const [x, y] = isAcross ? [m - window.x, k - window.y] : [k - window.x, m - window.y]
          if (x < 0 || y < 0 || x >= window.width || y >= window.height) return
          const o = 4 * (y * window.width + x)
          for (let c = 0; c < 4; c++) made[o + c] = pixels[4 * p + c]
        }
        const lines = new Set<number>()
        for (const m of [m0, m0 + mCount - 1]) for (let k = k0; k < k0 + kCount; k++) lines.add(k - offset(m))
        const low = Math.min(...lines)
        const high = Math.max(...lines)
        for (let line = low; line <= high; line++) {
          // Each line's runs are cut at places of its own.
          const start = Math.floor(longest * gridNoise(line, 0, seed))
          const first = Math.floor((m0 - start) / longest)
          const last = Math.floor((m0 + mCount - 1 - start) / longest)
          for (let cell = first; cell <= last; cell++) {
            const begin = start + cell * longest
            for (let m = begin; m < begin + longest;) {
              const p = safe(pixelOf(m, line + offset(m)), across * down)
              if (!isIn(p)) {
                write(m, line + offset(m), p)
                m++
                continue
              }
              const run: number[] = []
              const at = m
              while (m < begin + longest) {
                const q = safe(pixelOf(m, line + offset(m)), across * down)
                if (!isIn(q)) break
                run.push(q)
                m++
              }
              const keys = new Map(run.map((q) => [q, key(q)]))
              const sorted = [...run].sort((a, b) => (keys.get(a) ?? 0) - (keys.get(b) ?? 0) || a - b)
              if (isBackward) sorted.reverse()
              sorted.forEach((q, i) => write(at + i, line + offset(at + i), q))
            }
          }
        }
      },
    }
  },
})

/** Beyond what is there, the last pixel. */
const safe = (p: number, count: number): number => Math.min(count - 1, Math.max(0, p))

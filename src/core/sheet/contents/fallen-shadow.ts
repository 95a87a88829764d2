import { z } from 'zod'
import { parseHex } from '../../math/colour'
import { choiceParam, colourParam, numberParam, pointParam } from '../../params'
import { surfaceCoverage, type PassResult } from '../../passes/pass-result'
import { softAt, softPlane, type SoftPlane } from '../../picture/soft-plane'
import { passPlacement } from '../pass-placement'
import { shotMapWindow } from '../shot-map-window'
import { defineContent, type PaintTarget } from './content-kind'

const blur = (label: string, byDefault: number) =>
  numberParam({ label, unit: '‰', min: 0, max: 120, step: 0.1, default: byDefault })

const schema = z.object({
  foot: pointParam({ label: 'Foot', default: [0.5, 0.8] }),
  head: pointParam({ label: 'Top', default: [0.5, 0.3] }),
  falls: pointParam({ label: 'End', default: [0.75, 0.92] }),
  colour: colourParam({ label: 'Colour', default: '#2a2438' }),
  strength: numberParam({ label: 'Strength', min: 0, max: 1, step: 0.01, default: 0.7 }),
  soft: blur('Soft at its foot', 0.6),
  softer: blur('Soft at its end', 9),
  fades: numberParam({ label: 'Fades towards its end', min: 0, max: 1, step: 0.01, default: 0.35 }),
  over: choiceParam({
    label: 'Falls on',
    options: { behind: 'What is not nearer', all: 'Everything but itself' },
    default: 'behind',
  }),
  slack: numberParam({ label: 'Depth it allows', min: 0, max: 1, step: 0.01, default: 0.12 }),
})

/**
 * The silhouette of parts, sheared to the ground: their top comes to lie where one wants it, their foot stays, and what is
 * level stays level. Softer and fainter with the distance from its foot.
 */
export const fallenShadowContent = defineContent({
  kind: 'fallenShadow',
  version: 1,
  label: 'Fallen shadow',
  summary: 'The shadow of chosen parts, laid on the ground by hand or under a light.',
  schema,
  shape: {
    ...schema.shape,
    /** Keys of the parts that throw it; none: all of the subject. */
    parts: z.array(z.string()).max(4096).default([]),
  },
  shotPasses: ({ over }) => (over === 'behind' ? ['id', 'depth'] : ['id']),
  paint(shadow, target) {
    const { window, view, sheet, resources } = target
    const idPass = resources.shotPass(sheet.shotId, 'id')
    if (!idPass) return null
    const at = ([x, y]: readonly [number, number]) => [x * view.width, y * view.height] as const
    const [foot, head, falls] = [at(shadow.foot), at(shadow.head), at(shadow.falls)]
    const up = [head[0] - foot[0], head[1] - foot[1]] as const
    const lies = [falls[0] - foot[0], falls[1] - foot[1]] as const
    // Level or upright: a shadow without a breadth is not seen.
    if (Math.abs(lies[1]) < 0.5 || Math.hypot(...up) < 1) return null
    const silhouette = silhouetteOf(idPass, shadow.parts)
    const placed = passPlacement(idPass, view, sheet)
    const toPass = idPass.width / placed.width
    const open = shadow.over === 'behind' ? openTo(target, shadow) : null
    const perMille = view.height / 1000
    const [r, g, b] = parseHex(shadow.colour)
    const out = new Float32Array(4 * window.width * window.height)
    let isSeen = false
    for (let y = 0, i = 0; y < window.height; y++) {
      const py = window.y + y + 0.5
      // How far along the shadow this row lies: 0 at its foot, 1 where its top falls.
      const t = (py - foot[1]) / lies[1]
      if (t < -0.15 || t > 1.6) {
        i += window.width
        continue
      }
      const along = Math.min(1, Math.max(0, t))
      const sigma = (shadow.soft + (shadow.softer - shadow.soft) * along) * perMille * toPass
      const weight = shadow.strength * (1 - shadow.fades * along)
      const sy = (foot[1] + t * up[1] - placed.y) * toPass
      for (let x = 0; x < window.width; x++, i++) {
        const px = window.x + x + 0.5
        const sx = (px - t * lies[0] + t * up[0] - placed.x) * toPass
        let alpha = weight * softAt(silhouette, sx, sy, sigma)
        if (alpha < 0.001) continue
        // What throws it stands before it.
        alpha *= 1 - softAt(silhouette, (px - placed.x) * toPass, (py - placed.y) * toPass, 0)
        if (open) alpha *= open(i, along)
        if (alpha < 0.001) continue
        isSeen = true
        out[4 * i] = r
        out[4 * i + 1] = g
        out[4 * i + 2] = b
        out[4 * i + 3] = alpha
      }
    }
    return isSeen ? out : null
  },
})

/** How much of a pixel is not nearer than the shadow is there; null without a depth pass. */
function openTo(
  target: PaintTarget,
  { foot, falls, slack }: { foot: readonly number[]; falls: readonly number[]; slack: number },
): ((pixel: number, along: number) => number) | null {
  const { view, sheet } = target
  const request = { from: 'shot', map: 'depth', id: '' } as const
  const depths = shotMapWindow(request, target, sheet.shotId)
  if (!depths) return null
  const depthAt = ([x, y]: readonly number[]): number | null => {
    const [px, py] = [Math.floor(x * view.width), Math.floor(y * view.height)]
    if (px < 0 || py < 0 || px >= view.width || py >= view.height) return null
    const one = { ...target, window: { x: px, y: py, width: 1, height: 1 } }
    const found = shotMapWindow(request, one, sheet.shotId)?.[0] ?? 2
    return found >= 2 ? null : found
  }
  const near = depthAt(foot) ?? 0
  const end = depthAt(falls) ?? near
  return (pixel, along) => {
    const over = near + (end - near) * along - slack - depths[pixel]
    // Soft over a little of depth: slopes are not cut off in steps.
    return over <= 0 ? 1 : Math.max(0, 1 - over / (0.25 * slack + 0.02))
  }
}

/** Silhouettes that were looked at, by the pass they are of: those looked at last. */
const known = new WeakMap<PassResult, { readonly key: string; readonly plane: SoftPlane }[]>()
const MOST = 4

/** How much of each pixel parts cover. @param parts their keys; none: all of the subject. */
function silhouetteOf(idPass: PassResult, parts: readonly string[]): SoftPlane {
  const key = [...parts].sort().join('\n')
  const held = known.get(idPass) ?? []
  const found = held.find((own) => own.key === key)
  if (found) return found.plane
  const wanted = new Set(parts)
  const chosen = Uint8Array.from(idPass.surfaces, ({ part, role }) =>
    Number(parts.length === 0 ? (role ?? 'subject') === 'subject' : wanted.has(part)),
  )
  const plane = softPlane(surfaceCoverage(idPass, chosen), idPass.width, idPass.height)
  known.set(idPass, [{ key, plane }, ...held].slice(0, MOST))
  return plane
}

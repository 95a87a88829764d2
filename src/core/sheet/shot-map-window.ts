import { heightIn } from '../passes/depth'
import { namedChannels, type PassResult } from '../passes/pass-result'
import { SHOT_MAPS, type ShotMap, type ShotMapRequest } from '../passes/shot-maps'
import type { Tile } from '../passes/tile'
import { decodeChannel } from '../picture/channel'
import { cutPicture, resizeWindow } from '../picture/resample'
import type { PaintTarget } from './contents/content-kind'
import { layWindow, passPlacement } from './pass-placement'

/** The pass that a request means: the one it names, or the shot's own. */
export const passOfMap = (
  { map, id }: ShotMapRequest,
  shotId: string | undefined,
  { pass, shotPass }: PaintTarget['resources'],
): PassResult | null => {
  const found = id === '' ? shotPass(shotId, SHOT_MAPS[map].pass) : pass(id)
  return found?.kind === SHOT_MAPS[map].pass ? found : null
}

/**
 * A window of a map of the shot.
 * @returns Float32Array, width·height of the window; null where there is neither pass nor picture to make it from.
 */
export function shotMapWindow(
  request: ShotMapRequest,
  target: PaintTarget,
  shotId: string | undefined,
): Float32Array | null {
  const { window, view, sheet, resources } = target
  const map: ShotMap = SHOT_MAPS[request.map]
  const pass = passOfMap(request, shotId, resources)
  if (pass) {
    const placed = passPlacement(pass, view, sheet)
    const found = layWindow(placed, window, 4, (inside) => {
      const rectOf = (rect: Tile) => weighed(pass, map, rect)
      if (placed.width === pass.width && placed.height === pass.height) return rectOf(inside)
      const across = { pixels: pass.width, origin: 0, length: placed.width }
      const down = { pixels: pass.height, origin: 0, length: placed.height }
      return resizeWindow(rectOf, across, down, inside)
    })
    const plane = new Float32Array(window.width * window.height).fill(map.beyond)
    if (found) for (let i = 0; i < plane.length; i++) if (found[4 * i + 3] > 0) plane[i] = found[4 * i]
    return plane
  }
  const picture = request.id === '' ? null : resources.picture(request.id)
  if (!picture) return null
  const pixels = resizeWindow(
    (rect) => cutPicture(picture, rect),
    { pixels: picture.width, origin: 0, length: view.width },
    { pixels: picture.height, origin: 0, length: view.height },
    window,
  )
  return Float32Array.from({ length: window.width * window.height }, (_, i) => {
    const at = 4 * i
    if (pixels[at + 3] <= 0) return map.beyond
    const brightness = 0.3 * pixels[at] + 0.59 * pixels[at + 1] + 0.11 * pixels[at + 2]
    // Pictures of depth are light where it is near.
    return map.isFitted ? 1 - brightness : brightness
  })
}

/** A rectangle of a pass's channel as the first of four, with coverage as the last, as pictures are resized: weighed by it. */
function weighed(pass: PassResult, map: ShotMap, rect: Tile): Float32Array {
  const channels = namedChannels(pass)
  const value = channels.find(({ name }) => name === map.channel)
  const alpha = channels.find(({ name }) => name === 'A')
  const out = new Float32Array(4 * rect.width * rect.height)
  if (!value || !alpha) return out
  const { near, far } = pass.facts
  const from = map.isFitted && typeof near === 'number' ? near : 0
  const span = map.isFitted && typeof far === 'number' ? Math.max(1e-9, far - from) : 1
  const height = map.isHeight ? heightIn(pass.facts) : null
  // A pass that was rendered before heights were told says nothing.
  if (map.isHeight && !height) return out
  const row = new Float32Array(rect.width)
  for (let y = 0, at = 0; y < rect.height; y++) {
    const start = (rect.y + y) * pass.width + rect.x
    decodeChannel(value, start, rect.width, row)
    for (let x = 0; x < rect.width; x++)
      out[at + 4 * x] = height ? height(rect.x + x + 0.5, rect.y + y + 0.5, row[x]) : (row[x] - from) / span
    decodeChannel(alpha, start, rect.width, row)
    for (let x = 0; x < rect.width; x++, at += 4) out[at + 3] = row[x]
  }
  return out
}

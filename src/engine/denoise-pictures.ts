import { CancelledError } from '@/core/errors'
import { DENOISE_MARGIN, type DenoiseGuides } from '@/core/passes/denoise'
import { namedChannels, type PassResult } from '@/core/passes/pass-result'
import { passKind } from '@/core/passes/registry'
import type { PassOrder } from '@/core/passes/render-tile'
import type { Frame } from '@/core/scene/camera'
import { allOf } from './all-of'
import type { RenderWorker } from './render-worker'

/** Rows of a picture that are smoothed at a time. */
const ROWS = 64

/**
 * Smooths the noise of finished pictures, some rows at a time on every worker; the results are changed once all is done.
 * @throws {CancelledError} soon after the signal is aborted; the results are then as they were.
 */
export async function denoisePictures(
  workers: readonly RenderWorker[],
  orders: readonly PassOrder[],
  frame: Frame,
  results: readonly PassResult[],
  guides: DenoiseGuides,
  signal: AbortSignal,
): Promise<void> {
  const { width, height } = frame
  const chosen = orders.flatMap((order, o) => {
    if (!order.denoise) return []
    const names = passKind(order.kind).denoised(results[o].lights, order.params)
    const raysPerPixel = Math.max(1, order.effort.samples * order.effort.rays)
    return namedChannels(results[o]).flatMap((channel, c) =>
      names.includes(channel.name) ? [{ o, c, channel, raysPerPixel }] : [],
    )
  })
  if (chosen.length === 0) return
  // What is smoothed must not be read as neighbour again: it goes into copies first.
  const smooth = chosen.map(({ channel }) => channel.data.slice())
  let next = 0
  const runner = async (worker: RenderWorker): Promise<void> => {
    while (next < height) {
      if (signal.aborted) throw new CancelledError('The render')
      const top = next
      next += ROWS
      const rows = Math.min(ROWS, height - top)
      const from = Math.max(0, top - DENOISE_MARGIN)
      const to = Math.min(height, top + rows + DENOISE_MARGIN)
      const { planes } = await worker.ask(
        {
          type: 'denoise',
          width,
          height: to - from,
          planes: chosen.map(({ channel, raysPerPixel }) => ({
            format: channel.format,
            data: channel.data.slice(from * width, to * width),
            raysPerPixel,
          })),
          guides: {
            surfaces: guides.surfaces.slice(from * width, to * width),
            normals: guides.normals.slice(3 * from * width, 3 * to * width),
            depths: guides.depths.slice(from * width, to * width),
          },
        },
        'denoised',
      )
      planes.forEach((plane, k) =>
        smooth[k].set(plane.subarray((top - from) * width, (top - from + rows) * width), top * width),
      )
    }
  }
  await allOf(workers.map(runner))
  chosen.forEach(({ o, c }, k) => results[o].channels[c].set(smooth[k]))
}

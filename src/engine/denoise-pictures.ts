import { CancelledError } from '@/core/errors'
import { DENOISE_MARGIN, type DenoiseGuides } from '@/core/passes/denoise'
import { namedChannels, type PassResult } from '@/core/passes/pass-result'
import { passKind } from '@/core/passes/registry'
import type { FromWorker, ToWorker } from './messages'
import type { RenderRequest } from './render-pool'

/** Rows of a picture that are smoothed at a time. */
const ROWS = 64

/**
 * Smooths the noise of finished pictures, some rows at a time on every worker; the results are changed once all is done.
 * @param ask sends a message to one of `ports` workers.
 * @throws {CancelledError} soon after the signal is aborted; the results are then as they were.
 */
export async function denoisePictures(
  ask: (port: number, make: (request: number) => ToWorker) => Promise<FromWorker>,
  ports: number,
  { frame, orders }: Pick<RenderRequest, 'frame' | 'orders'>,
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
  const runner = async (port: number): Promise<void> => {
    while (next < height) {
      if (signal.aborted) throw new CancelledError('The render')
      const top = next
      next += ROWS
      const rows = Math.min(ROWS, height - top)
      const from = Math.max(0, top - DENOISE_MARGIN)
      const to = Math.min(height, top + rows + DENOISE_MARGIN)
      const message = await ask(port, (request) => ({
        type: 'denoise',
        request,
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
      }))
      if (message.type !== 'denoised') continue
      message.planes.forEach((plane, k) =>
        smooth[k].set(plane.subarray((top - from) * width, (top - from + rows) * width), top * width),
      )
    }
  }
  const outcomes = await Promise.allSettled(Array.from({ length: ports }, (_, port) => runner(port)))
  const failed = outcomes.find((outcome) => outcome.status === 'rejected')
  if (failed) throw failed.reason
  chosen.forEach(({ o, c }, k) => results[o].channels[c].set(smooth[k]))
}

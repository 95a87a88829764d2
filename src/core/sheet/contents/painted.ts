import { z } from 'zod'
import { cameraSchema, frameSchema, type Camera, type Frame } from '../../scene/camera'
import { cutPaint } from '../../paint/cut-paint'
import { paintShape } from '../../paint/paint-grid'
import { resizeWindow } from '../../picture/resample'
import { defineContent } from './content-kind'

const vector = z.tuple([z.number(), z.number(), z.number()])
/** A camera that is part of a document: it is edited with it. */
const ownCamera = cameraSchema.extend({
  eye: vector,
  target: vector,
  shift: z.tuple([z.number().min(-2).max(2), z.number().min(-2).max(2)]).optional(),
})

/** A copy of a view, as painted layers keep it. */
export const seenByNow = ({ camera, frame }: { readonly camera: Camera; readonly frame: Frame }) => {
  const { shift, ...rest } = camera
  return {
    camera: {
      ...rest,
      eye: [...camera.eye] as [number, number, number],
      target: [...camera.target] as [number, number, number],
      ...(shift && { shift: [...shift] as [number, number] }),
    },
    frame: { ...frame },
  }
}

/** What was painted by hand, over the whole sheet. */
export const paintedContent = defineContent({
  kind: 'painted',
  version: 1,
  label: 'Painted',
  summary: 'Painted by hand, over the whole sheet.',
  shape: {
    ...paintShape,
    /** The view that it was painted over: what it was painted on can be found again from another. */
    seenBy: z.object({ camera: ownCamera, frame: frameSchema }).optional(),
  },
  paint(grid, { window, view, resources }) {
    return resizeWindow(
      (rect) => cutPaint(grid, resources, rect),
      { pixels: grid.width, origin: 0, length: view.width },
      { pixels: grid.height, origin: 0, length: view.height },
      window,
    )
  },
})

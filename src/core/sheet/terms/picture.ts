import { z } from 'zod'
import { cutPicture, resizeWindow } from '../../picture/resample'
import { defineTerm } from './term-kind'

/** A grey picture over the whole sheet; white shows. Its brightness times its alpha. */
export const pictureTerm = defineTerm({
  kind: 'picture',
  version: 1,
  label: 'Picture',
  summary: 'A grey picture: white shows, black hides.',
  shape: { pictureId: z.string() },
  uses: ({ pictureId }) => [pictureId],
  plane({ pictureId }, { window, view, resources }) {
    const found = resources.picture(pictureId)
    if (!found) return null
    const pixels = resizeWindow(
      (rect) => cutPicture(found, rect),
      { pixels: found.width, origin: 0, length: view.width },
      { pixels: found.height, origin: 0, length: view.height },
      window,
    )
    const plane = new Float32Array(window.width * window.height)
    for (let i = 0, at = 0; i < plane.length; i++, at += 4)
      plane[i] = (0.2126 * pixels[at] + 0.7152 * pixels[at + 1] + 0.0722 * pixels[at + 2]) * pixels[at + 3]
    return plane
  },
})

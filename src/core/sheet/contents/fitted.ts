import { z } from 'zod'
import { numberParam, toggleParam } from '../../params'
import { defineContent } from './content-kind'

const schema = z.object({
  shadows: numberParam({ label: 'Shadows', min: 0, max: 3, step: 0.01, default: 1 }),
  lights: numberParam({ label: 'Lights', min: 0, max: 3, step: 0.01, default: 0.7 }),
  calm: numberParam({ label: 'Leaves alone', min: 0, max: 0.5, step: 0.005, default: 0.02 }),
  white: numberParam({ label: 'Brightness of the surface', min: 0.02, max: 1, step: 0.005, default: 0.8 }),
  coloured: toggleParam({ label: 'Takes the colour of the light', default: false }),
})

const axis = () => z.number().min(-8).max(9)
const corner = () => z.tuple([axis(), axis()])
const bend = () => z.tuple([z.number().min(-4).max(4), z.number().min(-4).max(4)])

/** Places of a mesh along each side: a patch of cubic curves. */
export const MESH_SIDE = 4

const fittedShape = {
  ...schema.shape,
  sheetId: z.string(),
  /** Where the sheet's corners lie, in shares, from the upper left clockwise. */
  corners: z.tuple([corner(), corner(), corner(), corner()]).default([
    [0.25, 0.2],
    [0.75, 0.2],
    [0.75, 0.8],
    [0.25, 0.8],
  ]),
  /** How far the places of its mesh lie off where they would lie on a flat sheet, row after row; empty: flat. */
  bends: z
    .array(bend())
    .max(MESH_SIDE * MESH_SIDE)
    .refine((list) => list.length === 0 || list.length === MESH_SIDE * MESH_SIDE, 'must be none or 16')
    .default([]),
}

/** A page fitted into what lies beneath it: a photograph of a wall, a box, a cloth. Its shadows and lights fall on the print. */
export const fittedContent = defineContent({
  kind: 'fitted',
  version: 1,
  label: 'Page in a picture',
  summary: 'A page between four corners of what lies beneath, whose shadows and lights fall on it.',
  schema,
  shape: fittedShape,
})

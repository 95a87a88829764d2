import { z } from 'zod'
import { paramValuesSchema } from '@/core/params'
import { surfaceSchema } from '@/core/passes/pass-result'
import { PASS_KINDS } from '@/core/passes/registry'
import { cameraSchema, frameSchema } from '@/core/scene/camera'
import { partRoleSchema } from '@/core/scene/part-role'
import { registrationSchema } from '@/core/scene/registration'
import { sheetSchema } from '@/core/sheet/sheet-schema'

/** Everything of a project but its bulk (files, rendered channels), which is kept beside it by id. */

export const PROJECT_VERSION = 1

const rgb = z.tuple([z.number(), z.number(), z.number()])

export const projectPartSchema = z.object({
  /** Unique in the project: model id and the part's number in its file. */
  key: z.string(),
  name: z.string(),
  /** Number of the part above it in this list, −1 at the root. */
  parent: z.number().int(),
  role: partRoleSchema,
  polygons: z.number().int(),
  materials: z.array(z.number().int()),
})
export type ProjectPart = z.infer<typeof projectPartSchema>

export const projectModelSchema = z.object({
  id: z.string(),
  name: z.string(),
  /** The file among `files` that holds the model. */
  entry: z.string(),
  files: z.array(z.object({ name: z.string(), fileId: z.string() })),
  geometryHash: z.string(),
  placement: z.object({
    position: z.tuple([z.number(), z.number(), z.number()]),
    turnDeg: z.number(),
    scale: z.number().positive(),
  }),
  parts: z.array(projectPartSchema),
  materials: z.array(z.object({ key: z.string(), name: z.string(), baseColour: rgb })),
  polygons: z.object({ 3: z.number(), 4: z.number(), more: z.number() }),
  warnings: z.array(z.object({ code: z.string(), message: z.string(), part: z.string().nullable() })),
})
export type ProjectModel = z.infer<typeof projectModelSchema>

export const shotSchema = z.object({
  id: z.string(),
  name: z.string(),
  camera: cameraSchema,
  frame: frameSchema,
  locked: z.boolean(),
})
export type Shot = z.infer<typeof shotSchema>

export const qualitySchema = z.enum(['draft', 'final'])
export type Quality = z.infer<typeof qualitySchema>

export const renderedSchema = z.object({
  resultId: z.string(),
  registration: registrationSchema,
  params: paramValuesSchema,
  quality: qualitySchema,
  width: z.number().int().positive(),
  height: z.number().int().positive(),
  surfaces: z.array(surfaceSchema),
  rays: z.number(),
  seconds: z.number(),
  samples: z.number(),
})
export type Rendered = z.infer<typeof renderedSchema>

export const projectPassSchema = z.object({
  id: z.string(),
  kind: z.enum(PASS_KINDS),
  /** What the next render will use; `rendered.params` is what the last one used. */
  params: paramValuesSchema,
  rendered: renderedSchema.nullable(),
})
export type ProjectPass = z.infer<typeof projectPassSchema>

export const projectSchema = z.object({
  version: z.literal(PROJECT_VERSION),
  id: z.string(),
  name: z.string(),
  models: z.array(projectModelSchema),
  shots: z.array(shotSchema).min(1),
  passes: z.array(projectPassSchema),
  pictures: z.array(z.object({ id: z.string(), name: z.string(), fileId: z.string() })),
  sheets: z.array(sheetSchema).min(1),
})
export type Project = z.infer<typeof projectSchema>

/** Checks references inside a project that a schema cannot. Returns what is wrong, in words. */
export function validateProject(project: Project): string[] {
  const problems: string[] = []
  const passIds = new Set(project.passes.map((p) => p.id))
  const pictureIds = new Set(project.pictures.map((p) => p.id))
  for (const sheet of project.sheets) {
    for (const layer of sheet.layers) {
      const { source } = layer
      if (source.type === 'pass' && !passIds.has(source.passId))
        problems.push(`layer ${layer.name} names a pass that is not there`)
      if (source.type === 'picture' && !pictureIds.has(source.pictureId)) {
        problems.push(`layer ${layer.name} names a picture that is not there`)
      }
    }
  }
  for (const model of project.models) {
    if (!model.files.some((f) => f.name === model.entry))
      problems.push(`model ${model.name} names a file that is not there`)
    model.parts.forEach((part, i) => {
      if (part.parent >= i) problems.push(`part ${part.name} stands before the part it belongs to`)
    })
  }
  return problems
}

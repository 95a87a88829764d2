// One file: the whole document in one place: what is stored is read here.
import { z } from 'zod'
import { paramValuesSchema } from '@/core/params'
import { MOST_INKS } from '@/core/effects/ink-separation'
import { repairSchema } from '@/core/geometry/repairs/registry'
import { PROP_KINDS } from '@/core/geometry/props/registry'
import { EFFORTS, effortSchema } from '@/core/passes/effort'
import { batchChoiceSchema } from '@/core/batch/batch-plan'
import { passFactsSchema } from '@/core/passes/pass-facts'
import { surfaceSchema } from '@/core/passes/pass-result'
import { PASS_KINDS } from '@/core/passes/registry'
import { passMembersSchema } from '@/core/passes/render-tile'
import { cameraSchema, frameSchema } from '@/core/scene/camera'
import { cameraMoveSchema } from '@/core/scene/camera-move'
import { rigSchema } from '@/core/scene/light-rig'
import { partRoleSchema } from '@/core/scene/part-role'
import { copiesSchema, placementSchema } from '@/core/scene/placement'
import { registrationSchema } from '@/core/scene/registration'
import { renderedLightSchema } from '@/core/scene/rendered-light'
import { treeSchema } from '@/core/sheet/sheet-schema'
import { typeStyleSchema } from '@/core/type/type-style'
import { MOST_SEQUENCE_FRAMES } from '@/core/turn/sequence'
import { turnSchema } from '@/core/turn/turn-schema'
import { validateTree } from '@/core/sheet/sheet-tree'

/** Everything of a project but its bulk (files, rendered channels), which is kept beside it by id. */

export const PROJECT_VERSION = 6

const rgb = z.tuple([z.number(), z.number(), z.number()])
const share = z.number().min(0).max(1)

export const projectPartSchema = z.object({
  /** Unique in the project: model id and the part's number in its file. */
  key: z.string(),
  name: z.string(),
  /** Number of the part above it in this list, −1 at the root. */
  parent: z.number().int(),
  role: partRoleSchema,
  /** Left out for now, whatever its role: showing it again gives the role back. */
  hidden: z.boolean(),
  polygons: z.number().int(),
  /** Those by how many sides they have; not known of parts that were brought in before this was counted. */
  sides: z.object({ 3: z.number().int(), 4: z.number().int(), more: z.number().int() }).optional(),
  materials: z.array(z.number().int()),
  /** The group it was put in, or null. */
  groupId: z.string().nullable(),
})
export type ProjectPart = z.infer<typeof projectPartSchema>

export const projectMaterialSchema = z.object({
  key: z.string(),
  name: z.string(),
  /** Display values; `fileColour` is what the file said. */
  baseColour: rgb,
  fileColour: rgb,
  roughness: share,
  highlight: share,
  opacity: share,
  emission: rgb,
  /** Name of the base colour's picture; null for none. */
  texture: z.string().nullable(),
  /** 1 shows the picture as it is. */
  textureBrightness: z.number().min(0).max(4),
})
export type ProjectMaterial = z.infer<typeof projectMaterialSchema>

export const modelSourceSchema = z.discriminatedUnion('type', [
  z.object({
    type: z.literal('file'),
    /** The file among `files` that holds the model. */
    entry: z.string(),
    files: z.array(z.object({ name: z.string(), fileId: z.string() })),
  }),
  /** Made by the application. */
  z.object({ type: z.literal('prop'), prop: z.enum(PROP_KINDS), params: paramValuesSchema }),
])
export type ModelSource = z.infer<typeof modelSourceSchema>

export const projectModelSchema = z.object({
  id: z.string(),
  name: z.string(),
  source: modelSourceSchema,
  /** Applied to what the file gives, in order. */
  repairs: z.array(repairSchema),
  geometryHash: z.string(),
  placement: placementSchema,
  copies: copiesSchema,
  parts: z.array(projectPartSchema),
  materials: z.array(projectMaterialSchema),
  polygons: z.object({ 3: z.number(), 4: z.number(), more: z.number() }),
  warnings: z.array(z.object({ code: z.string(), message: z.string(), part: z.string().nullable() })),
  /** Cameras of the file, in the model's own space. */
  cameras: z.array(z.object({ name: z.string(), camera: cameraSchema })),
})
export type ProjectModel = z.infer<typeof projectModelSchema>

export const groupSchema = z.object({
  id: z.string(),
  name: z.string(),
  /** The group it lies in, or null. */
  parentId: z.string().nullable(),
})
export type PartGroup = z.infer<typeof groupSchema>

export const paletteSchema = z.object({ id: z.string(), name: z.string(), colours: z.array(rgb).max(64) })

/** One way to colour all materials, by material key. */
export const schemeSchema = z.object({ id: z.string(), name: z.string(), colours: z.record(z.string(), rgb) })
export type Scheme = z.infer<typeof schemeSchema>

/** A picture pinned beside the view. */
export const referenceSchema = z.object({
  id: z.string(),
  name: z.string(),
  fileId: z.string(),
})
export type Reference = z.infer<typeof referenceSchema>

export const GUIDES = ['thirds', 'centre', 'diagonals', 'safe'] as const
export type Guide = (typeof GUIDES)[number]

export const shotSchema = z.object({
  id: z.string(),
  name: z.string(),
  camera: cameraSchema,
  frame: frameSchema,
  /** Dots per inch the frame was measured with, for sizes on paper. */
  dpi: z.number().int().min(36).max(2400),
  /** Share of the picture left free by a framing, on each side. */
  margin: z.number().min(0).max(0.4),
  locked: z.boolean(),
  rigId: z.string(),
  /** The sheet at work while this shot is. */
  sheetId: z.string(),
  guides: z.array(z.enum(GUIDES)),
  /** Depth of field, looked at while one composes; off where left out. */
  focus: z
    .object({
      on: z.boolean(),
      /** World units along the view axis; null is where the target is. */
      distance: z.number().positive().nullable(),
      blur: z.number().min(0).max(1),
    })
    .optional(),
  /** Views kept to come back to, and for moves between them. */
  views: z.array(z.object({ id: z.string(), name: z.string(), camera: cameraSchema })),
  moves: z.array(cameraMoveSchema),
})
export type Shot = z.infer<typeof shotSchema>

/** How much work a render was given; `custom` is by the pass's own numbers. */
export const qualitySchema = z.enum([...EFFORTS, 'custom'])
export type Quality = z.infer<typeof qualitySchema>

export const storedSequenceSchema = z.object({
  id: z.string(),
  name: z.string(),
  width: z.number().int().positive(),
  height: z.number().int().positive(),
  /** The number of its first picture. */
  first: z.number().int().min(0),
  /** In order; the id of the file is the picture's own. Numbers that are missing are not there. */
  frames: z
    .array(z.object({ number: z.number().int().min(0), name: z.string(), fileId: z.string() }))
    .min(1)
    .max(MOST_SEQUENCE_FRAMES),
})

/** A rectangle of a picture in pixels. */
export const tileSchema = z.object({
  x: z.number().int(),
  y: z.number().int(),
  width: z.number().int().positive(),
  height: z.number().int().positive(),
})

export const renderedSchema = z.object({
  resultId: z.string(),
  registration: registrationSchema,
  params: paramValuesSchema,
  quality: qualitySchema,
  width: z.number().int().positive(),
  height: z.number().int().positive(),
  surfaces: z.array(surfaceSchema),
  /** The lights it was rendered under, for passes that use them. */
  lights: z.array(renderedLightSchema),
  /** What is known of the whole picture. */
  facts: passFactsSchema,
  members: passMembersSchema,
  denoised: z.boolean(),
  /** For passes that show materials: of each material by key, a hash of what of it the pass shows. */
  materials: z.record(z.string(), z.string()).default({}),
  rays: z.number(),
  seconds: z.number(),
  samples: z.number(),
})
export type Rendered = z.infer<typeof renderedSchema>

export const projectPassSchema = z.object({
  id: z.string(),
  shotId: z.string(),
  kind: z.enum(PASS_KINDS),
  name: z.string(),
  /** The rig it is lit by; null is its shot's. */
  rigId: z.string().nullable().default(null),
  /** Which parts and lights it holds. */
  members: passMembersSchema,
  /** Whether noise is smoothed away after the render, within surfaces. */
  denoise: z.boolean(),
  /** Samples and rays of a custom render. */
  effort: effortSchema,
  /** What the next render will use; `rendered.params` is what the last one used. */
  params: paramValuesSchema,
  rendered: renderedSchema.nullable(),
})
export type ProjectPass = z.infer<typeof projectPassSchema>

/** Lengths of a page are millimetres; they are shown in this unit. */
export const PAGE_UNITS = ['mm', 'in', 'px'] as const
const millimetres = (most: number) => z.number().min(0).max(most)

const hex6 = z.string().regex(/^#[0-9a-f]{6}$/i, 'must look like #rrggbb')

/** An ink of one's own. */
export const inkSchema = z.object({
  id: z.string(),
  name: z.string().min(1).max(80),
  /** What it looks like on white paper. */
  colour: hex6,
  /** Of its screen. */
  angleDeg: z.number().min(-90).max(90),
})
export type Ink = z.infer<typeof inkSchema>

/** Inks that a page is printed in. */
export const pageInksSchema = z.object({
  on: z.boolean(),
  list: z.array(inkSchema).min(1).max(MOST_INKS),
  screened: z.boolean(),
  /** Lines of a screen to an inch. */
  linesPerInch: z.number().min(5).max(300),
  /** How far plates lie beside their marks, at most, as it is seen: what is written for a press lies on them. */
  slipMm: z.number().min(0).max(5).default(0),
  /** Each number another way. */
  slipSeed: z.number().int().min(0).max(9999).default(1),
  /** The one whose plate alone is seen, as a grey picture: while it is looked at or written, not stored. */
  plate: z.string().optional(),
})
export type PageInks = z.infer<typeof pageInksSchema>

/** What makes a sheet a page of a poster: its paper. Its pixels reach over the bleed on every side. */
export const pageSchema = z.object({
  posterId: z.string(),
  unit: z.enum(PAGE_UNITS),
  /** After it is cut. */
  widthMm: z.number().min(5).max(5000),
  heightMm: z.number().min(5).max(5000),
  dpi: z.number().min(18).max(2400),
  bleedMm: millimetres(50),
  /** Top, right, bottom, left. */
  marginsMm: z.tuple([millimetres(1000), millimetres(1000), millimetres(1000), millimetres(1000)]),
  columns: z.number().int().min(1).max(24),
  gutterMm: millimetres(200),
  /** Distance of lines that type can stand on; 0 for none. */
  baselineMm: millimetres(200),
  marks: z.object({ crop: z.boolean(), registration: z.boolean() }),
  inks: pageInksSchema.optional(),
  /** How white its paper is and how black its ink: what a soft proof shows. */
  stock: z.object({ paper: hex6, black: hex6 }).optional(),
})
export type Page = z.infer<typeof pageSchema>

/** A sheet and the shot it belongs to. */
export const projectSheetSchema = treeSchema.extend({
  shotId: z.string(),
  page: pageSchema.optional(),
  /** The poster that it is a mock-up of, where it is one. */
  mockupOf: z.string().optional(),
})
export type ProjectSheet = z.infer<typeof projectSheetSchema>

/** A way to set type. Lengths are pixels of a page that measures what `page` says. */
export const typeStyleEntrySchema = z.object({
  id: z.string(),
  name: z.string().min(1).max(80),
  page: z.object({ width: z.number().positive(), height: z.number().positive() }),
  fontId: z.string(),
  axes: z.record(z.string(), z.number()),
  style: typeStyleSchema,
})
export type TypeStyleEntry = z.infer<typeof typeStyleEntrySchema>

/** Files that a project remembers to have written. */
export const MOST_WRITTEN = 5000

export const projectSchema = z.object({
  version: z.literal(PROJECT_VERSION),
  id: z.string(),
  name: z.string(),
  models: z.array(projectModelSchema),
  groups: z.array(groupSchema),
  palettes: z.array(paletteSchema),
  schemes: z.array(schemeSchema),
  /** The scheme whose colours the materials have now; null where they have their own. */
  schemeId: z.string().nullable(),
  references: z.array(referenceSchema),
  rigs: z.array(rigSchema).min(1),
  shots: z.array(shotSchema).min(1),
  /** The shot at work. */
  shotId: z.string(),
  passes: z.array(projectPassSchema),
  /** Passes as they were before one thing was rendered again, to be compared; see `beforeId`. Of this browser alone. */
  before: z.array(projectPassSchema).default([]),
  pictures: z.array(z.object({ id: z.string(), name: z.string(), fileId: z.string() })),
  /** Pictures after each other: numbered ones, or the frames of a film. */
  sequences: z.array(storedSequenceSchema).default([]),
  sheets: z.array(projectSheetSchema).min(1),
  /** Series of pages, each a sheet with a page. */
  posters: z
    .array(z.object({ id: z.string(), name: z.string(), author: z.string().max(200).optional() }))
    .default([]),
  /** Ways to set type, under names. */
  typeStyles: z.array(typeStyleEntrySchema).default([]),
  /** Fonts that were brought. */
  fonts: z
    .array(z.object({ id: z.string(), name: z.string(), fileId: z.string(), licence: z.string() }))
    .default([]),
  /** States of sheets that were kept under a name, the newest last. */
  kept: z
    .array(
      z.object({
        id: z.string(),
        name: z.string(),
        /** Milliseconds since 1970. */
        at: z.number(),
        sheet: projectSheetSchema,
      }),
    )
    .default([]),
  /** How files were last handed over, and what each showed then. */
  handOver: z
    .object({
      choice: batchChoiceSchema.nullable(),
      /** By what tells files apart (`fileIdentity`); the newest last. */
      written: z
        .array(
          z.object({
            identity: z.string(),
            /** Its name, with folders. */
            file: z.string(),
            /** Stays as long as what it shows stays. */
            revision: z.string(),
          }),
        )
        .max(MOST_WRITTEN),
    })
    .default({ choice: null, written: [] }),
  /** How sheets, and their shots, go over time. */
  turns: z.array(turnSchema).max(1000).default([]),
})
export type Project = z.infer<typeof projectSchema>
export type StoredSequence = z.infer<typeof storedSequenceSchema>
/** What of a project lies beside its sheets: it does not change while one is worked on. */
export type BesideSheets = Omit<Project, 'sheets' | 'kept'>

/** Ids of every stored file a project names. */
export const filesOf = (
  project: Pick<Project, 'models' | 'pictures' | 'sequences' | 'references' | 'fonts'>,
) => [
  ...project.models.flatMap((m) => (m.source.type === 'file' ? m.source.files : [])),
  ...project.pictures,
  ...project.sequences.flatMap(({ frames }) => frames),
  ...project.references,
  ...project.fonts,
]

const filesOfSequences = ({ sequences }: Pick<Project, 'sequences'>): string[] =>
  sequences.flatMap(({ frames }) => frames.map(({ fileId }) => fileId))

/** Checks references inside a project that a schema cannot. Returns what is wrong, in words. */
export function validateProject(project: Project): string[] {
  const problems: string[] = []
  const ids = (list: readonly { readonly id: string }[]) => new Set(list.map((item) => item.id))
  const [passIds, pictureIds, shotIds, rigIds, groupIds] = [
    ids(project.passes),
    new Set([...ids(project.pictures), ...filesOfSequences(project)]),
    ids(project.shots),
    ids(project.rigs),
    ids(project.groups),
  ]
  for (const sheet of project.sheets) {
    if (!shotIds.has(sheet.shotId)) problems.push(`sheet ${sheet.name} belongs to a shot that is not there`)
    problems.push(...validateTree(sheet).map((problem) => `sheet ${sheet.name}: ${problem}`))
    for (const { name, content } of Object.values(sheet.nodes)) {
      if (content.kind === 'pass' && !passIds.has(content.passId))
        problems.push(`layer ${name} names a pass that is not there`)
      if (content.kind === 'picture' && !pictureIds.has(content.pictureId))
        problems.push(`layer ${name} names a picture that is not there`)
    }
    if (sheet.mockupOf !== undefined && !project.posters.some(({ id }) => id === sheet.mockupOf))
      problems.push(`mock-up ${sheet.name} belongs to a poster that is not there`)
    if (sheet.page && !project.posters.some(({ id }) => id === sheet.page?.posterId))
      problems.push(`page ${sheet.name} belongs to a poster that is not there`)
  }
  for (const { name, sheetId } of project.turns)
    if (!project.sheets.some((sheet) => sheet.id === sheetId))
      problems.push(`turntable ${name} shows a sheet that is not there`)
  if (!shotIds.has(project.shotId)) problems.push('the shot at work is not there')
  for (const shot of project.shots) {
    if (!rigIds.has(shot.rigId)) problems.push(`shot ${shot.name} names a rig that is not there`)
    if (!project.sheets.some((sheet) => sheet.shotId === shot.id && sheet.id === shot.sheetId))
      problems.push(`shot ${shot.name} has no sheet at work`)
  }
  for (const pass of project.passes)
    if (!shotIds.has(pass.shotId)) problems.push(`a ${pass.kind} pass belongs to a shot that is not there`)
    else if (pass.rigId !== null && !rigIds.has(pass.rigId))
      problems.push(`pass ${pass.name} names a rig that is not there`)
  for (const rig of project.rigs) {
    for (const light of rig.lights)
      if (light.kind === 'dome' && light.pictureId !== null && !pictureIds.has(light.pictureId))
        problems.push(`light ${light.name} names a picture that is not there`)
  }
  const parentOf = new Map(project.groups.map((group) => [group.id, group.parentId]))
  for (const group of project.groups) {
    let up = group.parentId
    for (let step = 0; up !== null && step <= project.groups.length; step++) {
      if (!groupIds.has(up)) {
        problems.push(`group ${group.name} lies in a group that is not there`)
        break
      }
      if (up === group.id || step === project.groups.length) {
        problems.push(`group ${group.name} lies in itself`)
        break
      }
      up = parentOf.get(up) ?? null
    }
  }
  for (const model of project.models) {
    const { source } = model
    if (source.type === 'file' && !source.files.some((f) => f.name === source.entry))
      problems.push(`model ${model.name} names a file that is not there`)
    model.parts.forEach((part, i) => {
      if (part.parent >= i) problems.push(`part ${part.name} stands before the part it belongs to`)
      if (part.groupId !== null && !groupIds.has(part.groupId))
        problems.push(`part ${part.name} is in a group that is not there`)
    })
  }
  return problems
}

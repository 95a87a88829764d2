import type { Draft } from 'immer'
import type { Rgb } from '@/core/math/colour'
import { bestMatch, paletteOf } from '@/core/picture/palette'
import { newId } from '@/data/new-project'
import { loadFile } from '@/data/project-repository'
import type { Project, ProjectMaterial, Reference, Scheme } from '@/data/project-schema'
import { changeProject, useProjectStore } from './project-store'

/** What can be done to materials, palettes and schemes. Each is one undo step. */

const allMaterials = <P extends Pick<Project, 'models'>>(project: P) =>
  project.models.flatMap((model) => model.materials)

/** Gives materials colours, and keeps them in the scheme at work. */
function paint(draft: Draft<Project>, colourOf: (material: ProjectMaterial) => Rgb | undefined): void {
  const scheme = draft.schemes.find((s) => s.id === draft.schemeId)
  for (const material of allMaterials(draft)) {
    const colour = colourOf(material as ProjectMaterial)
    if (!colour) continue
    material.baseColour = [...colour]
    if (scheme) scheme.colours[material.key] = [...colour]
  }
}

export const setColour = (key: string, colour: Rgb): void =>
  changeProject(
    'material colour',
    (draft) => paint(draft, (m) => (m.key === key ? colour : undefined)),
    `colour ${key}`,
  )

/** Changes anything of a material but its colour, which belongs to the scheme. */
export const changeMaterial = (
  key: string,
  label: string,
  patch: Partial<
    Pick<ProjectMaterial, 'name' | 'roughness' | 'highlight' | 'opacity' | 'emission' | 'textureBrightness'>
  >,
): void =>
  changeProject(
    label.toLowerCase(),
    (draft) => {
      for (const material of allMaterials(draft)) if (material.key === key) Object.assign(material, patch)
    },
    `${label} ${key}`,
  )

/** Gives all materials the colours of their files again. */
export const restoreColours = (): void =>
  changeProject('colours of the file', (draft) => paint(draft, (m) => m.fileColour))

const coloursNow = (project: Pick<Project, 'models'>): Scheme['colours'] =>
  Object.fromEntries(allMaterials(project).map((m) => [m.key, [...m.baseColour]]))

/**
 * Begins a scheme with the colours of now, and goes to it. Where there was none, the colours of now are kept as one, too,
 * to go back to.
 */
export const addScheme = (): void =>
  changeProject('new scheme', (draft) => {
    const add = () => {
      const scheme = { id: newId(), name: `Scheme ${draft.schemes.length + 1}`, colours: coloursNow(draft) }
      draft.schemes.push(scheme as Draft<Scheme>)
      return scheme.id
    }
    if (draft.schemes.length === 0) add()
    draft.schemeId = add()
  })

/** Colours everything by another scheme; materials it does not know stay as they are. */
export const useScheme = (id: string): void =>
  changeProject('other scheme', (draft) => {
    const scheme = draft.schemes.find((s) => s.id === id)
    if (!scheme) return
    draft.schemeId = id
    const colours = new Map(Object.entries(scheme.colours))
    paint(draft, (m) => colours.get(m.key))
  })

export const renameScheme = (id: string, name: string): void =>
  changeProject(
    'rename scheme',
    (draft) => {
      for (const scheme of draft.schemes) if (scheme.id === id) scheme.name = name
    },
    `scheme ${id}`,
  )

/** Removes a scheme; the colours stay as they are seen. */
export const removeScheme = (id: string): void =>
  changeProject('remove scheme', (draft) => {
    draft.schemes = draft.schemes.filter((s) => s.id !== id)
    if (draft.schemeId === id) draft.schemeId = null
  })

/** Longest side a picture is looked at with: colours do not need more. */
const LOOK_PX = 320

async function pixelsOf(bytes: Uint8Array, name: string): Promise<Uint8ClampedArray> {
  let bitmap: ImageBitmap
  try {
    bitmap = await createImageBitmap(new Blob([bytes.slice()]))
  } catch {
    throw new Error(`${name}: this browser cannot read it as a picture.`)
  }
  const scale = Math.min(1, LOOK_PX / Math.max(bitmap.width, bitmap.height))
  const canvas = new OffscreenCanvas(
    Math.max(1, Math.round(bitmap.width * scale)),
    Math.max(1, Math.round(bitmap.height * scale)),
  )
  const context = canvas.getContext('2d')
  if (!context) throw new Error(`${name}: this browser gives no canvas to read it with.`)
  context.drawImage(bitmap, 0, 0, canvas.width, canvas.height)
  bitmap.close()
  return context.getImageData(0, 0, canvas.width, canvas.height).data
}

/** Takes a palette of a reference picture. @throws {Error} where the picture cannot be read. */
export async function takePalette(reference: Reference, count: number): Promise<void> {
  const { project } = useProjectStore.getState()
  if (!project) return
  const pixels = await pixelsOf(await loadFile(project.id, reference.fileId), reference.name)
  const found = paletteOf(pixels, count)
  const colours = found.map(({ rgb }): [number, number, number] => [rgb[0], rgb[1], rgb[2]])
  changeProject(`palette of ${reference.name}`, (draft) => {
    draft.palettes.push({ id: newId(), name: reference.name.replace(/\.[^.]+$/, ''), colours })
  })
}

export const removePalette = (id: string): void =>
  changeProject('remove palette', (draft) => {
    draft.palettes = draft.palettes.filter((palette) => palette.id !== id)
  })

/** Materials that some part wears: the others would take up colours for nothing. */
const wornMaterials = (project: Pick<Project, 'models'>): ProjectMaterial[] =>
  project.models.flatMap((model) => {
    const worn = new Set(model.parts.flatMap((part) => part.materials))
    return model.materials.filter((_, i) => worn.has(i))
  })

/** Gives each material the nearest colour of a palette, each used as evenly as may be. */
export function matchPalette(id: string): void {
  const { project } = useProjectStore.getState()
  const palette = project?.palettes.find((p) => p.id === id)
  if (!project || !palette) return
  const materials = wornMaterials(project)
  // By the colours of the files, so that the same press always gives the same.
  const match = bestMatch(
    materials.map((m) => m.fileColour),
    palette.colours,
  )
  const colourOf = new Map(materials.map((m, i) => [m.key, palette.colours[match[i]]]))
  changeProject('match palette', (draft) => paint(draft, (m) => colourOf.get(m.key)))
}

/** Deals a palette's colours out to the materials by chance, each used as evenly as may be. */
export function shufflePalette(id: string, random: () => number = Math.random): void {
  const { project } = useProjectStore.getState()
  const palette = project?.palettes.find((p) => p.id === id)
  if (!project || !palette || palette.colours.length === 0) return
  const materials = wornMaterials(project)
  const deck = materials.map((_, i) => palette.colours[i % palette.colours.length])
  // Fisher and Yates 1938, as by Durstenfeld 1964.
  for (let i = deck.length - 1; i > 0; i--) {
    const j = Math.floor(random() * (i + 1))
    ;[deck[i], deck[j]] = [deck[j], deck[i]]
  }
  const colourOf = new Map(materials.map((m, i) => [m.key, deck[i]]))
  changeProject('shuffle palette', (draft) => paint(draft, (m) => colourOf.get(m.key)))
}

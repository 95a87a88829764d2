// One file: one recipe made, written, read, matched and hung.
import { strToU8, zipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { bytesSource } from '@/core/formats/zip-file'
import { effectProblem } from '@/core/sheet/evaluate/effect-works'
import {
  contentOf,
  evenFill,
  newEffect,
  newLayer,
  newMask,
  newTerm,
  passOf,
  surfaceTerm,
} from '@/core/sheet/new-layer'
import type { SheetEffect, SheetNode } from '@/core/sheet/sheet-schema'
import { insertNode, layersOf } from '@/core/sheet/sheet-tree'
import { sheetUses } from '@/core/sheet/sheet-uses'
import type { MaskTerm } from '@/core/sheet/terms/registry'
import { newPass, newProject } from '../new-project'
import { projectSchema, validateProject, type Project, type ProjectModel } from '../project-schema'
import { testModel, testRendered } from '../testing/fixtures'
import { hangRecipe, putUp } from './hang-recipe'
import { makeRecipe } from './make-recipe'
import { answersOf, isSure, matchRecipe } from './match-recipe'
import { READY_RECIPES } from './ready/registry'
import { readRecipe, readRecipeFile, writeRecipeFile } from './recipe-file'
import { validateRecipe } from './recipe-schema'

const zipOf = (files: Readonly<Record<string, string>>): Uint8Array =>
  zipSync(Object.fromEntries(Object.entries(files).map(([name, text]) => [name, strToU8(text)])))

let made = 0
const newId = () => `new-${++made}`

const model = (
  id: string,
  parts: readonly (readonly [name: string, material: string, groupId?: string])[],
  colours: Readonly<Record<string, [number, number, number]>> = {},
): ProjectModel => {
  const [base] = testModel().parts
  const [material] = testModel().materials
  const materials = [...new Set(parts.map(([, name]) => name))]
  return testModel({
    id,
    parts: parts.map(([name, own, groupId], i) => ({
      ...base,
      key: `${id}/${i}`,
      name,
      materials: [materials.indexOf(own)],
      groupId: groupId ?? null,
    })),
    materials: materials.map((name, i) => ({
      ...material,
      key: `${id}/${i}`,
      name,
      baseColour: colours[name] ?? [0.5, 0.5, 0.5],
    })),
  })
}

/** A project with a sheet that names everything a sheet can. */
function lamp(): Project {
  const project = newProject('Lamp')
  const own = (kind: 'id' | 'clay' | 'light', id: string) => ({
    ...newPass(project.shotId, kind),
    id,
    rendered: testRendered({ resultId: `r-${id}` }),
  })
  const [light] = project.rigs[0].lights
  light.lights = ['a/1']
  project.models = [
    model('a', [
      ['Post', 'Iron'],
      ['Lamp glass', 'Glass', 'g'],
      ['Cap', 'Iron', 'g'],
    ]),
  ]
  project.groups = [{ id: 'g', name: 'Head', parentId: null }]
  project.pictures = [{ id: 'paper', name: 'paper.png', fileId: 'f-paper' }]
  project.passes = [
    { ...own('clay', 'clay'), params: { ...newPass('', 'clay').params, roughness: 0.7 } },
    {
      ...own('id', 'id'),
      members: { parts: ['a/1', 'a/2'], others: 'hold out', letThrough: [], lights: null },
    },
    {
      ...own('light', 'key'),
      members: { parts: null, others: 'hold out', letThrough: [], lights: [light.id] },
    },
  ]
  const [sheet] = project.sheets
  const layer = (id: string, rest: Partial<SheetNode> & Pick<SheetNode, 'content'>) =>
    insertNode(sheet, newLayer({ id, name: id, ...rest }), { parent: null, index: Infinity })
  layer('form', { content: passOf('clay', {}) })
  layer('glow', {
    content: evenFill('#ffcc66'),
    mask: {
      ...newMask(),
      featherPx: 8,
      terms: [
        surfaceTerm('parts', ['a/1']),
        surfaceTerm('materials', ['a/0'], 'subtract'),
        surfaceTerm('groups', ['Head']),
        newTerm('brightnessRange', { layer: 'form' }),
      ],
    },
    effects: [{ ...newEffect('e', 'gaussianBlur'), params: { sigma: 12 } }],
  })
  layer('lit', { content: passOf('key', {}) })
  layer('sheet of paper', {
    content: {
      kind: 'picture',
      version: 1,
      pictureId: 'paper',
      centre: [0.5, 0.5],
      size: [1, 1],
      turnDeg: 0,
    },
  })
  return project
}

const recipeOf = (project: Project) => {
  const { recipe, fileIds } = makeRecipe(project, project.sheets[0], {
    id: 'own',
    name: 'Lamp light',
    note: '',
  })
  return { recipe: structuredClone(recipe), fileIds }
}

const put = (
  project: Project,
  recipe: ReturnType<typeof recipeOf>['recipe'],
  answers?: Map<string, readonly string[]>,
) => {
  const after = structuredClone(project)
  const hung = hangRecipe(recipe, after, answers ?? answersOf(matchRecipe(recipe, after)), newId)
  putUp(after, hung, new Map(hung.pictures.map(({ own }) => [own, `file of ${own}`])))
  return { after, hung, sheet: after.sheets[after.sheets.length - 1] }
}

describe('a font that was brought', () => {
  it('goes along with a recipe, and with what it says of its licence', async () => {
    const project = newProject('From')
    project.fonts = [{ id: 'own-font', name: 'Quay Grotesque', fileId: 'f-font', licence: 'OFL-1.1' }]
    const sheet = project.sheets[0]
    insertNode(
      sheet,
      newLayer({
        id: 't',
        name: 'Word',
        content: contentOf('type', { text: 'Tide', fontId: 'own-font', box: [0, 0, 1, 1] }),
      }),
      { parent: null, index: 0 },
    )
    const { recipe, fileIds } = makeRecipe(project, sheet, { id: 'r', name: 'R', note: '' })
    expect(recipe.pictures).toEqual([{ id: 'picture:1', name: 'Quay Grotesque', licence: 'OFL-1.1' }])
    expect(fileIds.get('picture:1')).toBe('f-font')
    const bytes = new Uint8Array([1, 2, 3])
    const file = await writeRecipeFile({ recipe, seen: null, pictures: new Map([['picture:1', bytes]]) })
    const back = await readRecipeFile(bytesSource(file), 'r.zip')
    const other = newProject('To')
    const hung = hangRecipe(back.recipe, other, new Map(), newId)
    putUp(other, hung, new Map([['picture:1', 'stored']]))
    const [font] = other.fonts
    expect(font).toMatchObject({ name: 'Quay Grotesque', licence: 'OFL-1.1', fileId: 'stored' })
    expect(other.pictures).toEqual([])
    const [word] = layersOf(hung.sheet)
    expect(word.content).toMatchObject({ kind: 'type', fontId: font.id })
    expect(validateProject(other)).toEqual([])
  })
})

describe('a recipe', () => {
  it('names nothing of the project it was made from', () => {
    const { recipe, fileIds } = recipeOf(lamp())
    expect(validateRecipe(recipe)).toEqual([])
    expect(JSON.stringify(recipe)).not.toMatch(/"a\/\d"|"f-paper"|"r-clay"/)
    expect(recipe.parts.map(({ name }) => name).sort()).toEqual(['Cap', 'Lamp glass'])
    expect(recipe.materials.map(({ name }) => name)).toEqual(['Iron'])
    expect(recipe.groups.map(({ name }) => name)).toEqual(['Head'])
    expect([...fileIds.values()]).toEqual(['f-paper'])
  })

  it('leaves what was painted behind, and the layer and the mask to be painted anew', () => {
    const project = newProject('Painted')
    const [sheet] = project.sheets
    const tiles = { '0,0': 'a-name' }
    const size = { width: sheet.width, height: sheet.height }
    const mask = { ...newMask(), terms: [newTerm('painted', { ...size, tiles, outside: true })] }
    const content = { kind: 'painted', version: 1, ...size, tiles } as const
    insertNode(sheet, newLayer({ id: 'p', name: 'Paint', content, mask }), { parent: null, index: 0 })
    const { recipe } = makeRecipe(project, sheet, { id: 'r', name: 'R', note: '' })
    const text = JSON.stringify(recipe)
    expect(text).toContain('"painted"')
    expect(text).not.toContain('a-name')
    expect(validateRecipe(recipe)).toEqual([])
  })

  it('brings a fallen shadow to the parts that are like those that throw it, and grown lines without their lines', () => {
    const project = lamp()
    const [sheet] = project.sheets
    const glass = project.models[0].parts.find(({ name }) => name === 'Lamp glass')
    const shadow = contentOf('fallenShadow', { parts: [glass?.key ?? ''] })
    const line: [number, number][] = [
      [0.1, 0.1],
      [0.2, 0.3],
    ]
    const at = { parent: null, index: 0 }
    insertNode(sheet, newLayer({ id: 'sh', name: 'Shadow', content: shadow }), at)
    insertNode(
      sheet,
      newLayer({ id: 'cr', name: 'Cracks', content: contentOf('cracks', { lines: [line] }) }),
      at,
    )
    const { recipe } = makeRecipe(project, sheet, { id: 'r', name: 'R', note: '' })
    expect(validateRecipe(recipe)).toEqual([])
    expect(JSON.stringify(recipe)).not.toContain(JSON.stringify(glass?.key))
    const { sheet: hung } = put(project, recipe)
    const nodes = Object.values(hung.nodes)
    expect(nodes.find(({ name }) => name === 'Shadow')?.content).toMatchObject({ parts: [glass?.key] })
    expect(nodes.find(({ name }) => name === 'Cracks')?.content).toMatchObject({ lines: [] })
  })

  it('put back where it is from takes the passes and lights that are there, and asks nothing', () => {
    const project = lamp()
    const { recipe } = recipeOf(project)
    const matches = matchRecipe(recipe, project)
    expect(matches.every(isSure)).toBe(true)
    const { after, hung, sheet } = put(project, recipe)
    expect(hung.passes).toEqual([])
    expect(hung.rigs).toEqual([])
    expect(hung.toRender).toEqual([])
    expect(validateProject(after)).toEqual([])
    expect(projectSchema.safeParse(after).success).toBe(true)
    const [before, now] = [project.sheets[0], sheet].map((own) =>
      layersOf(own).map(({ id: _id, effects, content, mask, ...rest }) => ({
        ...rest,
        content: { ...content, pictureId: '' },
        effects: effects.map(({ id: _effect, ...effect }) => effect),
        mask: mask && { ...mask, terms: mask.terms.map((term) => ({ ...term, layer: '' })) },
      })),
    )
    expect(now).toEqual(before)
    // What refers to a layer refers to its own.
    const [form, glow] = layersOf(sheet)
    expect(glow.mask?.terms[3]).toMatchObject({ layer: form.id })
  })

  it('finds parts by name, then by what is alike, and tells how', () => {
    const { recipe } = recipeOf(lamp())
    const other: Project = {
      ...newProject('Other'),
      models: [
        model('b', [
          ['lamp GLASS', 'Clear'],
          ['cap_02', 'Cast iron'],
          ['Foot', 'Stone'],
        ]),
      ],
    }
    const found = Object.fromEntries(matchRecipe(recipe, other).map((match) => [match.name, match]))
    expect(found['Lamp glass']).toMatchObject({ by: 'name', keys: ['b/0'] })
    expect(found.Cap).toMatchObject({ by: 'alike', keys: ['b/1'], usedBy: ['ID'] })
    // Iron is grey as all of these are.
    expect(found.Iron).toMatchObject({ by: 'colour', usedBy: ['glow'] })
    expect(found.Head).toMatchObject({ by: 'nothing', keys: [] })
  })

  it('finds parts by group, by material, and ground by its role', () => {
    const project = lamp()
    project.models[0].parts[0].role = 'ground'
    project.sheets[0].nodes.glow.mask = { ...newMask(), terms: [surfaceTerm('parts', ['a/0', 'a/1', 'a/2'])] }
    const { recipe } = recipeOf(project)
    const grouped: Project = {
      ...newProject('Other'),
      models: [
        model('b', [
          ['Bulb', 'Opal', 'h'],
          ['Floor', 'Oak'],
          ['Rod', 'Glass'],
        ]),
      ],
      groups: [{ id: 'h', name: 'head', parentId: null }],
    }
    grouped.models[0].parts[1].role = 'ground'
    const found = Object.fromEntries(matchRecipe(recipe, grouped).map((match) => [match.name, match]))
    expect(found['Lamp glass']).toMatchObject({ by: 'group', keys: ['b/0'] })
    expect(found.Post).toMatchObject({ by: 'role', keys: ['b/1'] })
    grouped.groups = []
    expect(matchRecipe(recipe, grouped).find(({ name }) => name === 'Lamp glass')).toMatchObject({
      by: 'material',
      keys: ['b/2'],
    })
  })

  it('adds passes that are set up otherwise, with their lights, and keeps what is left out by its name', () => {
    const { recipe } = recipeOf(lamp())
    const other: Project = {
      ...newProject('Other'),
      models: [model('b', [['Foot', 'Stone', undefined]], { Stone: [1, 0, 0] })],
    }
    const answers = answersOf(matchRecipe(recipe, other))
    expect([...answers.values()].every((keys) => keys.length === 0)).toBe(true)
    const { after, hung, sheet } = put(other, recipe, answers)
    expect(validateProject(after)).toEqual([])
    expect(hung.rigs).toHaveLength(1)
    expect(hung.passes.map(({ kind }) => kind).sort()).toEqual(['clay', 'id', 'light'])
    expect(hung.toRender).toHaveLength(3)
    // The light pass holds the light of its own rig.
    const key = hung.passes.find(({ kind }) => kind === 'light')
    const rig = after.rigs.find(({ id }) => id === key?.rigId)
    expect(rig?.lights.map(({ id }) => id)).toContain(key?.members.lights?.[0])
    const glow = layersOf(sheet)[1]
    expect(glow.mask?.terms.slice(0, 3)).toMatchObject([
      { keys: ['Lamp glass'] },
      { keys: ['Iron'] },
      { keys: ['Head'] },
    ])
    // The first sheet was empty: it is the one that was hung.
    expect(after.sheets).toHaveLength(1)
    expect(sheet.id).toBe(other.sheets[0].id)
    // Hung again, everything is there.
    const again = put(after, recipe, answers)
    expect(again.hung.passes).toEqual([])
    expect(again.hung.rigs).toEqual([])
    expect(again.after.sheets).toHaveLength(2)
    expect(again.sheet.name).not.toBe(sheet.name)
  })

  it('takes the size of the shot, its lengths with it', () => {
    const { recipe } = recipeOf(lamp())
    const other = newProject('Other')
    other.shots[0].frame = { width: 640, height: 400 }
    const { sheet } = put(other, recipe)
    expect([sheet.width, sheet.height]).toEqual([640, 400])
    const glow = layersOf(sheet)[1]
    expect(glow.effects[0].params.sigma).toBeCloseTo(12 * (400 / recipe.sheet.height))
    expect(glow.mask?.featherPx).toBeCloseTo(8 * (400 / recipe.sheet.height))
  })

  it('goes through its file and comes back', async () => {
    const { recipe } = recipeOf(lamp())
    const [{ id: picture }] = recipe.pictures
    const bytes = new Uint8Array([1, 2, 3])
    const file = await writeRecipeFile({ recipe, seen: bytes, pictures: new Map([[picture, bytes]]) })
    const back = await readRecipeFile(bytesSource(file), 'lamp.zip')
    expect(back.recipe).toEqual(recipe)
    expect(back.seen).toEqual(bytes)
    expect(back.pictures.get(picture)).toEqual(bytes)
  })

  it('is refused by name where its file is damaged', async () => {
    const { recipe } = recipeOf(lamp())
    const read = async (document: unknown) =>
      readRecipeFile(bytesSource(zipOf({ 'recipe.json': JSON.stringify(document) })), 'x.zip')
    await expect(read({ ...recipe, version: 2 })).rejects.toThrow(/newer version/)
    await expect(read({ ...recipe, pictures: [] })).rejects.toThrow(/picture:1, which it does not describe/)
    await expect(read({ ...recipe, passes: [{ ...recipe.passes[0], id: 'clay' }] })).rejects.toThrow(
      /passes.0.id: must look like pass:name/,
    )
    await expect(read(recipe)).rejects.toThrow(/pictures\/picture-1\/paper.png is missing/)
    const passes = recipe.passes.map((pass) => ({ ...pass, params: { ...pass.params, roughness: 9 } }))
    await expect(read({ ...recipe, passes })).rejects.toThrow(/pass Clay/)
    await expect(readRecipeFile(bytesSource(zipOf({ 'other.txt': 'x' })), 'x.zip')).rejects.toThrow(
      /not a recipe/,
    )
  })
})

const effectsOf = (node: Pick<SheetNode, 'effects' | 'mask'>): readonly SheetEffect[] => [
  ...node.effects,
  ...node.effects.flatMap((effect) => effect.mask?.effects ?? []),
  ...(node.mask?.effects ?? []),
]
const termsOf = ({ mask, effects }: Pick<SheetNode, 'mask' | 'effects'>): readonly MaskTerm[] => [
  ...(mask?.terms ?? []),
  ...effects.flatMap((effect) => effect.mask?.terms ?? []),
]

describe.each(READY_RECIPES.map((recipe) => [recipe.name, recipe] as const))(
  'our recipe %s',
  (_name, recipe) => {
    const nodes = Object.values(recipe.sheet.nodes)

    it('is sound, and reads as it stands', () => {
      expect(readRecipe(JSON.parse(JSON.stringify(recipe)), recipe.id)).toEqual(recipe)
      for (const node of nodes) {
        expect(node.content.kind).not.toBe('unreadable')
        expect(effectsOf(node).map(effectProblem)).toEqual(effectsOf(node).map(() => null))
        expect(termsOf(node).map(({ kind }) => kind)).not.toContain('unreadable')
      }
    })

    it('names no part, brings every pass that it goes by, and uses all that it brings', () => {
      expect([recipe.parts, recipe.materials, recipe.groups, recipe.pictures]).toEqual([[], [], [], []])
      const { ids, kinds } = sheetUses(recipe.sheet)
      const brought = new Set(recipe.passes.map(({ kind }) => kind))
      expect([...kinds].filter((kind) => !brought.has(kind))).toEqual([])
      expect(
        recipe.passes.filter(({ id, kind }) => !ids.has(id) && !kinds.has(kind)).map(({ id }) => id),
      ).toEqual([])
      const lit = new Set(recipe.passes.map(({ rigId }) => rigId))
      expect(recipe.rigs.filter(({ id }) => !lit.has(id))).toEqual([])
    })
  },
)

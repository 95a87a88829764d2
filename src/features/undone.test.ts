import 'fake-indexeddb/auto'
import fc from 'fast-check'
import { describe, expect, it, vi } from 'vitest'
import { EFFECTS } from '@/core/effects/registry'
import { surfaceTerm } from '@/core/sheet/new-layer'
import { layersOf } from '@/core/sheet/sheet-tree'
import { LIGHT_KINDS } from '@/core/scene/light-rig'
import { PART_ROLES } from '@/core/scene/part-role'
import { READY_RIGS } from '@/core/scene/ready-rigs'
import { PASS_KINDS } from '@/core/passes/registry'
import { activePasses, activeSheet, activeShot, rigOf } from '@/data/active-shot'
import { newProject } from '@/data/new-project'
import { createProject, loadProject } from '@/data/project-repository'
import { validateProject, type Project } from '@/data/project-schema'
import { testModel } from '@/data/testing/fixtures'
import {
  addFillLayer,
  addGroup,
  addLivePressing,
  addMaskTerm,
  addPassLayer,
  addWash,
  changeLayer,
  deleteLayer,
  duplicateLayer,
  foldGroup,
  moveLayer,
  stepLayer,
  toggleInMask,
  ungroup,
} from './sheet/layer-actions'
import { lightingOf, otherLightings, takeFromLighting } from './sheet/join-lighting'
import { addScheme, changeMaterial, restoreColours, setColour, useScheme } from '@/state/material-actions'
import {
  dissolveGroup,
  groupParts,
  hideParts,
  moveToGroup,
  renamePart,
  renameParts,
  setRoles,
  showParts,
} from '@/state/model-actions'
import {
  addPass,
  addSecondLighting,
  changePass,
  duplicatePass,
  removePass,
  setPassRig,
} from '@/state/pass-actions'
import { closeProject, flushSave, openProject, redo, undo, useProjectStore } from '@/state/project-store'
import { addLight, addRig, changeLight, removeLight, removeRig, useRig } from '@/state/rig-actions'
import {
  addSheet,
  duplicateSheet,
  followShot,
  goToSheet,
  removeSheet,
  renameSheet,
  setSheetFit,
  setSheetSize,
} from '@/state/sheet-actions'
import {
  addShotFromHere,
  composeShot,
  goToShot,
  keepView,
  lockShot,
  removeShot,
  setDpi,
  setFrame,
} from '@/state/shot-actions'

const project = (): Project => {
  const found = useProjectStore.getState().project
  if (!found) throw new Error('no project is open')
  return found
}
const layers = () => layersOf(activeSheet(project()))
const groupId = (n: number): string | null =>
  nth(
    layers().filter(({ content }) => content.kind === 'group'),
    n,
  )?.id ?? null
const parts = () => project().models.flatMap((m) => m.parts)
/** One of a list by a number; nothing where it is empty. */
const nth = <T>(list: readonly T[], n: number): T | undefined => list[n % Math.max(1, list.length)]
const id = (list: readonly { readonly id: string }[], n: number): string => nth(list, n)?.id ?? 'nobody'
const key = (n: number): string => nth(parts(), n)?.key ?? 'nobody'
const hex = (n: number): string => `#${(n * 2654435).toString(16).padStart(6, '0').slice(-6)}`

/** Everything an artist can do to a document, by two numbers. */
const EDITS: readonly ((a: number, b: number) => unknown)[] = [
  // Parts and materials.
  (a, b) => setRoles([key(a)], PART_ROLES[b % PART_ROLES.length]),
  (a) => hideParts([key(a)]),
  (a) => showParts([key(a), key(a + 1)]),
  (a, b) => renamePart(key(a), `Part ${b}`),
  (a, b) => renameParts([key(a), key(b)], { kind: 'number', pattern: 'Post #', from: b }),
  (a, b) => groupParts([key(a)], `Group ${b}`),
  (a, b) => moveToGroup([key(a)], b % 2 === 0 ? null : id(project().groups, b)),
  (a) => dissolveGroup(id(project().groups, a)),
  (a, b) => setColour(nth(project().models[0].materials, a)?.key ?? '', [b / 64, a / 64, 0.5]),
  (a, b) => changeMaterial(project().models[0].materials[0].key, 'Roughness', { roughness: (a + b) / 128 }),
  () => restoreColours(),
  () => addScheme(),
  (a) => useScheme(id(project().schemes, a)),
  // Shots and light.
  () => addShotFromHere(),
  (a) => goToShot(id(project().shots, a)),
  () => removeShot(),
  (a) => lockShot(a % 2 === 0),
  (a) => composeShot('roll', (s) => void (s.camera.rollDeg = a)),
  (a, b) => setFrame({ width: 64 + a, height: 64 + b }),
  (a) => setDpi(72 + a),
  () => keepView(),
  (a) => addLight(LIGHT_KINDS[a % LIGHT_KINDS.length]),
  (a, b) =>
    changeLight(id(rigOf(project(), activeShot(project())).lights, a), 'strength', { strength: b / 16 }),
  (a) => removeLight(id(rigOf(project(), activeShot(project())).lights, a)),
  (a) => addRig(READY_RIGS[a % READY_RIGS.length]),
  (a) => useRig(id(project().rigs, a)),
  // Passes.
  (a) => addPass(PASS_KINDS[a % PASS_KINDS.length]),
  (a) => duplicatePass(id(activePasses(project()), a)),
  (a) => removePass(id(activePasses(project()), a)),
  (a) => addSecondLighting(id(activePasses(project()), a)),
  (a, b) => setPassRig(id(activePasses(project()), a), b % 3 === 0 ? null : id(project().rigs, b)),
  () => removeRig(),
  (a, b) => changePass(id(activePasses(project()), a), 'samples', (p) => void (p.effort.samples = 1 + b)),
  // The sheet.
  (a) => {
    const pass = nth(activePasses(project()), a)
    if (pass) addPassLayer(pass)
  },
  () => addFillLayer(),
  (a) => duplicateLayer(id(layers(), a)),
  (a) => deleteLayer(id(layers(), a)),
  (a, b) => moveLayer(id(layers(), a), { parent: b % 3 ? null : groupId(b), index: b % 5 }),
  (a, b) => stepLayer(id(layers(), a), b % 2 ? 1 : -1),
  () => addGroup(),
  (a) => ungroup(id(layers(), a)),
  (a, b) => foldGroup(id(layers(), a), b % 2 === 0),
  () => addWash(),
  () => addLivePressing(),
  (a, b) =>
    changeLayer(id(layers(), a), 'gate', (l) => {
      l.gate = b % 3 ? { own: null, beneath: [0, b / 128, 0.5, 1] } : null
    }),
  (a, b) => changeLayer(id(layers(), a), 'opacity', (l) => void (l.opacity = b / 64), 'opacity'),
  (a, b) => addMaskTerm(id(layers(), a), surfaceTerm('parts', [key(b)])),
  (a, b) => toggleInMask(id(layers(), a), 'parts', key(b)),
  (a, b) =>
    changeLayer(id(layers(), a), 'add effect', (l) => {
      const { kind, version, defaults } = EFFECTS[b % EFFECTS.length]
      const params = { ...defaults }
      l.effects.push({ id: `e${a} ${b}`, kind, version, enabled: true, opacity: 1, mask: null, params })
    }),
  (a) => changeLayer(id(layers(), a), 'remove effect', (l) => void l.effects.pop()),
  (a, b) =>
    changeLayer(id(layers(), a), 'fill', (l) => {
      if (l.content.kind === 'fill') l.content.stops[0].colour = hex(b)
    }),
  (a, b) => setSheetSize({ width: 64 + a, height: 64 + b }),
  (a) => setSheetFit(a % 2 === 0 ? 'crop' : 'extend'),
  () => followShot(),
  () => addSheet(),
  () => duplicateSheet(),
  () => removeSheet(),
  (a) => goToSheet(id(project().sheets, a)),
  (a) => renameSheet(`S${a}`),
  (a, b) => {
    const layer = nth(layers(), a)
    const pass = layer && lightingOf(project(), layer)
    const other = pass && nth(otherLightings(project(), pass), b)
    if (layer && other) takeFromLighting(layer, other, 'parts', key(b))
  },
]

const model = () => {
  const [part] = testModel().parts
  return testModel({ parts: [0, 1, 2, 3].map((i) => ({ ...part, key: `m/${i}`, name: `Part ${i}` })) })
}
/** Which shot and which sheet is looked at is no decision. */
const decided = ({ shotId: _shotId, shots, ...rest }: Project) => ({
  ...rest,
  shots: shots.map(({ sheetId: _sheetId, ...shot }) => shot),
})

describe('whatever is edited', () => {
  it('all undone is the first, all done again the last, every state between is sound and is what is stored', async () => {
    vi.stubGlobal('navigator', { hardwareConcurrency: 1 })
    const number = fc.integer({ min: 0, max: 63 })
    const edit = fc.tuple(fc.integer({ min: 0, max: EDITS.length - 1 }), number, number)
    await fc.assert(
      fc.asyncProperty(fc.array(edit, { minLength: 1, maxLength: 60 }), async (edits) => {
        const fresh = { ...newProject('A'), models: [model()] }
        await createProject(fresh)
        await openProject(fresh.id)
        const first = project()
        for (const [which, a, b] of edits) {
          EDITS[which](a, b)
          expect(validateProject(project())).toEqual([])
        }
        const last = project()
        while (undo() !== null) expect(validateProject(project())).toEqual([])
        expect(decided(project())).toEqual(decided(first))
        while (redo() !== null);
        expect(decided(project())).toEqual(decided(last))
        await flushSave()
        expect(await loadProject(fresh.id)).toEqual(project())
        await closeProject()
      }),
      { numRuns: 60, seed: 21 },
    )
    vi.unstubAllGlobals()
  }, 120_000)
})

import 'fake-indexeddb/auto'
import type { Draft } from 'immer'
import { beforeEach, describe, expect, it } from 'vitest'
import { roleNow } from '@/core/scene/part-role'
import { renderedLights } from '@/core/scene/rendered-light'
import { evenFill, newLayer, newMask, surfaceTerm, wholePicture } from '@/core/sheet/new-layer'
import type { Mask } from '@/core/sheet/sheet-schema'
import { isSurfaceTerm } from '@/core/sheet/terms/registry'
import { insertNode } from '@/core/sheet/sheet-tree'
import { activeSheet, activeShot, rigOf } from '@/data/active-shot'
import { newProject } from '@/data/new-project'
import { createProject } from '@/data/project-repository'
import type { Project } from '@/data/project-schema'
import { currentRegistration } from '@/data/project-scene'
import { neededBy, seenAs } from '@/data/sheet-needs'
import { testModel, testRendered } from '@/data/testing/fixtures'
import { maskProblem } from './mask-source'
import { hideParts, setRoles, showParts } from './model-actions'
import { removePass } from './pass-actions'
import { changeProject, openProject, redo, undo, useProjectStore } from './project-store'
import { nothingToRender } from './render-check'
import { changeLight } from './rig-actions'
import { followShot, setSheetFit, setSheetSize, sheetSize } from './sheet-actions'
import {
  addShotFromHere,
  composeShot,
  frameSubject,
  goToShot,
  lockShot,
  setCamera,
  setDpi,
  setFrame,
} from './shot-actions'
import { setBench, useViewStore } from './view-store'

const project = (): Project => {
  const found = useProjectStore.getState().project
  if (!found) throw new Error('no project is open')
  return found
}
const shot = () => activeShot(project())
const sheet = () => activeSheet(project())
const [part] = testModel().parts
const roles = () =>
  project()
    .models.flatMap((m) => m.parts)
    .map((p) => p.role)
const now = () =>
  project()
    .models.flatMap((m) => m.parts)
    .map(roleNow)

beforeEach(async () => {
  const parts = (['subject', 'ground', 'unseen', 'off'] as const).map((role, i) => ({
    ...part,
    key: `m/${i}`,
    role,
  }))
  const fresh = { ...newProject('A'), models: [testModel({ parts })] }
  await createProject(fresh)
  await openProject(fresh.id)
  setBench({ lockRefused: false })
})

describe('a locked shot', () => {
  it('stands, whoever asks, and says so', () => {
    lockShot(true)
    const before = project()
    const acts: (() => boolean)[] = [
      () => composeShot('roll', (s) => void (s.camera.rollDeg = 20)),
      () => composeShot('margin', (s) => void (s.margin = 0.2)),
      () => setCamera('move', { ...shot().camera, eye: [9, 9, 9] }),
      () => setFrame({ width: 400, height: 300 }),
      () => setDpi(72),
      () => frameSubject(0, 0),
    ]
    for (const act of acts) {
      setBench({ lockRefused: false })
      expect(act()).toBe(false)
      expect(project()).toBe(before)
    }
    expect(useViewStore.getState().lockRefused).toBe(false)
    expect(setDpi(72)).toBe(false)
    expect(useViewStore.getState().lockRefused).toBe(true)
    undo()
    expect(shot().locked).toBe(false)
    expect(setDpi(72)).toBe(true)
    expect(shot().dpi).toBe(72)
  })
})

describe('hiding', () => {
  it('leaves roles as they are, for parts and for a whole model', () => {
    const all = ['m/0', 'm/1', 'm/2', 'm/3']
    hideParts(all)
    expect(now()).toEqual(['off', 'off', 'off', 'off'])
    expect(roles()).toEqual(['subject', 'ground', 'unseen', 'off'])
    expect(nothingToRender(project())).toMatch(/every part is hidden or off/)
    showParts(all)
    expect(now()).toEqual(['subject', 'ground', 'unseen', 'off'])
    expect(nothingToRender(project())).toBeNull()
    setRoles(['m/1'], 'unseen')
    hideParts(['m/1'])
    setRoles(['m/1'], 'ground')
    expect(now()[1]).toBe('off')
    undo()
    undo()
    undo()
    redo()
    expect([roles()[1], now()[1]]).toEqual(['unseen', 'unseen'])
  })
  it('takes passes out of register as being off does, and showing brings them back', () => {
    const before = currentRegistration(project(), shot())
    hideParts(['m/0'])
    expect(currentRegistration(project(), shot())).not.toEqual(before)
    expect(currentRegistration(project(), shot()).models[0].roles[0]).toEqual({ key: 'm/0', role: 'off' })
    showParts(['m/0'])
    expect(currentRegistration(project(), shot())).toEqual(before)
  })
  it('shows a part whose role is off as subject, when nothing else is meant', () => {
    showParts(['m/3'])
    expect(roles()[3]).toBe('subject')
  })
})

/** A white layer with a mask. */
const hangFill = (sheet: ReturnType<typeof activeSheet<Project>>, mask: Partial<Mask>): void =>
  insertNode(
    sheet,
    newLayer({ id: 'l', name: 'L', content: evenFill('#ffffff'), mask: { ...newMask(), ...mask } }),
    { parent: null, index: 0 },
  )

describe('a sheet and the size of its shot', () => {
  it('follows while it has that size, in the same step, layers or not', () => {
    changeProject('feather', (draft) => {
      hangFill(activeSheet(draft), { featherPx: 8 })
    })
    setFrame({ width: 800, height: 400 })
    expect([sheet().width, sheet().height, sheet().nodes.l.mask?.featherPx]).toEqual([800, 400, 4])
    expect(sheetSize(project())).toBe('as its shot')
    undo()
    expect([sheet().width, sheet().height, sheet().nodes.l.mask?.featherPx]).toEqual([1280, 800, 8])
  })
  it('keeps a size of its own, says that it differs, and takes what is offered', () => {
    setSheetSize({ width: 640, height: 400 })
    expect(sheetSize(project())).toBe('another size')
    setFrame({ width: 900, height: 900 })
    expect([sheet().width, sheet().height]).toEqual([640, 400])
    expect(sheetSize(project())).toBe('another shape')
    setSheetFit('crop')
    expect(sheet().fit).toBe('crop')
    followShot()
    expect([sheet().width, sheet().height]).toEqual([900, 900])
    expect(sheetSize(project())).toBe('as its shot')
  })
  it('leaves the sheets of other shots alone', () => {
    const first = sheet().id
    addShotFromHere()
    expect(sheet().id).not.toBe(first)
    setFrame({ width: 320, height: 200 })
    expect(sheet()).toMatchObject({ width: 320 })
    expect(project().sheets.find((s) => s.id === first)).toMatchObject({ width: 1280 })
    goToShot(project().shots[0].id)
    expect(sheet().id).toBe(first)
  })
  it('comes to the highest dpi that its paper can have', () => {
    // A2 upright at 300 dpi.
    setFrame({ width: 4961, height: 7016 }, undefined, 300)
    setDpi(1200)
    expect(shot().dpi).toBe(700)
    expect(shot().frame.height).toBeLessThanOrEqual(16384)
    expect(shot().frame.width / shot().frame.height).toBeCloseTo(420 / 594, 3)
  })
})

describe('a mask that lost its source', () => {
  const masked = () => {
    changeProject('mask', (draft) => {
      for (const pass of draft.passes)
        if (pass.kind === 'id' || pass.kind === 'clay')
          pass.rendered = testRendered({ resultId: pass.kind }) as (typeof pass)['rendered']
      hangFill(activeSheet(draft), { terms: [surfaceTerm('parts', ['m/0'])] })
    })
  }
  it('says which: a pass removed or not rendered, a part or a picture gone', () => {
    masked()
    const problem = () => maskProblem(project(), sheet().nodes.l)
    expect(problem()).toBeNull()
    changeProject('gone', (draft) => {
      const term = activeSheet(draft).nodes.l.mask?.terms[0]
      if (term && isSurfaceTerm(term)) term.keys.push('x/9')
    })
    expect(problem()).toMatch(/1 part, material or group that it names is gone/)
    changeProject('unrendered', (draft) => {
      for (const pass of draft.passes) if (pass.kind === 'id') pass.rendered = null
    })
    expect(problem()).toMatch(/is not rendered: it limits nothing/)
    const id = project().passes.find((p) => p.kind === 'id')?.id ?? ''
    removePass(id)
    expect(problem()).toMatch(/was removed: it limits nothing/)
    expect(
      maskProblem(project(), {
        mask: {
          ...newMask(),
          terms: [{ ...surfaceTerm('parts', []), kind: 'picture', pictureId: 'p' }],
        },
      }),
    ).toMatch(/picture it is made from is gone/)
    expect(maskProblem(project(), { mask: null })).toBeNull()
  })
  it('is not composited from an ID pass that is there no more', () => {
    masked()
    const kinds = () => neededBy(project(), sheet()).passes.map((p) => p.kind)
    expect(kinds()).toEqual(['id'])
    removePass(project().passes.find((p) => p.kind === 'id')?.id ?? '')
    expect(kinds()).toEqual([])
  })
})

describe('what a sheet needs', () => {
  it('is what its layers and masks show: no dome among the pictures, no pass of another shot', () => {
    changeProject('pictures', (draft) => {
      draft.pictures.push(
        { id: 'sky', name: 'sky.hdr', fileId: 'f1' },
        { id: 'paper', name: 'p.png', fileId: 'f2' },
      )
      insertNode(activeSheet(draft), newLayer({ id: 'l', name: 'L', content: wholePicture('paper') }), {
        parent: null,
        index: 0,
      })
    })
    const needed = neededBy(project(), sheet())
    expect([...needed.pictureIds]).toEqual(['paper'])
    expect(needed.passes).toEqual([])
  })
})

describe('a rendered pass', () => {
  it('is seen in the light of now, and found anew only where that has changed', () => {
    changeProject('rendered', (draft) => {
      for (const pass of draft.passes)
        if (pass.kind === 'clay')
          pass.rendered = testRendered({ lights: renderedLights(rigOf(draft, activeShot(draft))) }) as Draft<
            (typeof pass)['rendered']
          >
    })
    const seen = () => {
      const clay = project().passes.find((p) => p.kind === 'clay')
      if (!clay) throw new Error('no clay')
      return seenAs(project(), clay)
    }
    const before = seen()
    setFrame({ width: 640, height: 400 })
    expect(seen()).toBe(before)
    const light = rigOf(project(), shot()).lights[0]
    changeLight(light.id, 'strength', { strength: light.strength / 2 })
    expect(seen().lights).not.toEqual(before.lights)
    undo()
    expect(seen().lights).toEqual(before.lights)
    redo()
    expect(seen().lights).not.toEqual(before.lights)
  })
})

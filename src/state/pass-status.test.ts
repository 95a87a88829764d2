import { testModel, testRendered } from '@/data/testing/fixtures'
import { renderedLights } from '@/core/scene/rendered-light'
import { describe, expect, it } from 'vitest'
import { newProject } from '@/data/new-project'
import { currentRegistration } from '@/data/project-scene'
import type { Project } from '@/data/project-schema'
import { outOfRegister, passStatus } from './pass-status'

/** A project of one part whose clay pass was just rendered. */
function rendered(): Project {
  const project = newProject('p')
  project.models = [testModel()]
  const [clay] = project.passes
  clay.rendered = testRendered({
    registration: currentRegistration(project, project.shots[0]),
    params: { ...clay.params },
    lights: renderedLights(project.rigs[0]),
  })
  return project
}
const changed = (change: (p: Project) => void): Project => {
  const project = structuredClone(rendered())
  change(project)
  return project
}
const reasons = (project: Project): string => {
  const status = passStatus(project, project.passes[0])
  return status.state === 'out of register' ? status.reasons.join('; ') : status.state
}

describe('passStatus', () => {
  it('knows what was never rendered and what still fits', () => {
    const project = rendered()
    expect(passStatus(project, project.passes[1])).toEqual({ state: 'empty' })
    expect(passStatus(project, project.passes[0])).toEqual({ state: 'ready' })
    expect(outOfRegister(project)).toEqual([])
  })
  it.each<[string, (p: Project) => void, RegExp]>([
    [
      'a camera that moved',
      (p) => void (p.shots[0].camera = { ...p.shots[0].camera, eye: [9, 9, 9] }),
      /camera/,
    ],
    ['another lens', (p) => void (p.shots[0].camera = { ...p.shots[0].camera, fovDeg: 50 }), /lens/],
    ['another size', (p) => void (p.shots[0].frame = { width: 64, height: 64 }), /size|frame/],
    ['a hidden part', (p) => void (p.models[0].parts[0].role = 'off'), /Roof is now off/],
    ['a moved model', (p) => void (p.models[0].placement.rotationDeg = [0, 5, 0]), /Kiosk/],
    ['a model that is gone', (p) => void (p.models = []), /Kiosk|model/],
    ['another setting', (p) => void (p.passes[0].params.roughness = 0.2), /settings changed/],
  ])('names %s', (_what, change, pattern) => {
    const project = changed(change)
    expect(reasons(project)).toMatch(pattern)
    expect(outOfRegister(project)).toEqual([project.passes[0]])
  })
  it.each<[string, (p: Project) => void]>([
    ['a new name', (p) => void (p.models[0].parts[0].name = 'Cap')],
    ['a new colour', (p) => void (p.models[0].materials[0].baseColour = [1, 1, 1])],
    ['a lock', (p) => void (p.shots[0].locked = true)],
  ])('is not disturbed by %s', (_what, change) => expect(reasons(changed(change))).toBe('ready'))
})

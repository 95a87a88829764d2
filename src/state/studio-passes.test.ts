import { describe, expect, it } from 'vitest'
import { newProject } from '@/data/new-project'
import { validateProject, type Project } from '@/data/project-schema'
import { renderingCopy } from '@/data/rendering-copy'
import { testRendered } from '@/data/testing/fixtures'
import { timeNeeded } from './studio-passes'

/** Occlusion at draft, half as wide and high as the shot. */
function rendered(): Project {
  const project = newProject('Kiosk')
  const { width, height } = project.shots[0].frame
  const passes = project.passes
    .filter(({ kind }) => kind === 'occlusion')
    .map((pass) => ({
      ...pass,
      rendered: testRendered({ width: width / 2, height: height / 2, samples: 1, seconds: 8, rays: 1000 }),
    }))
  return { ...project, passes }
}

describe('the time that passes need', () => {
  it('goes with pixels and rays of what they took last, at either place', () => {
    const project = rendered()
    const { here, there } = timeNeeded(project, project.passes, 'draft', 500, 2)
    // Four times the pixels; 4,000 rays at 500 a second, 32 seconds of one thread on two.
    const samples = (here ?? 0) / 16
    expect(there).toBeCloseTo(8 * samples, 9)
    expect(samples).toBeGreaterThanOrEqual(1)
    expect(timeNeeded(project, project.passes, 'draft', 500, 4).here).toBeCloseTo((here ?? 0) / 2, 9)
    expect(timeNeeded(project, project.passes, 'final', 500, 2).here).toBeGreaterThan(here ?? 0)
  })
  it('is not known where nothing was rendered yet, or the studio has done nothing yet', () => {
    const project = newProject('Kiosk')
    expect(timeNeeded(project, project.passes, 'good', 500, 2)).toEqual({ here: null, there: null })
    const own = rendered()
    expect(timeNeeded(own, own.passes, 'draft', null, 2).there).toBeNull()
  })
})

describe('what goes to the studio', () => {
  it('is a sound project that nothing but the scene makes another', () => {
    const project = rendered()
    const [shot] = project.shots
    const copy = renderingCopy(project, shot.id)
    expect(validateProject(copy)).toEqual([])
    const painted = {
      ...project,
      sheets: project.sheets.map((sheet) => ({ ...sheet, roots: [] })),
      posters: [{ id: 'p', name: 'Fair' }],
    }
    expect(renderingCopy(painted, shot.id)).toEqual(copy)
    expect(renderingCopy({ ...project, shots: [{ ...shot, margin: 0.2 }] }, shot.id)).not.toEqual(copy)
  })
})

import { describe, expect, it } from 'vitest'
import { contentOf, evenFill, passOf, wholePicture } from '@/core/sheet/new-layer'
import { testLayer } from '@/core/sheet/testing/sheets'
import { newTurn, type Turn } from '@/core/turn/turn-schema'
import { frameNames } from './frame-names'
import { newProject } from './new-project'
import type { Project } from './project-schema'
import { testModel, testRendered } from './testing/fixtures'
import { savingsOf, turnPoses, turnStage } from './turn-frames'

const base: Project = (() => {
  const project = { ...newProject('P'), models: [testModel()] }
  const [clay, ...others] = project.passes
  const wire = others.find(({ kind }) => kind === 'wireframe') ?? others[0]
  const nodes = {
    sky: testLayer('sky', { content: evenFill('#aabbcc') }),
    clay: testLayer('clay', { content: passOf(clay.id, {}) }),
    wire: testLayer('wire', { content: passOf(wire.id, {}) }),
  }
  const sheet = { ...project.sheets[0], nodes, roots: ['sky', 'clay', 'wire'] }
  return { ...project, sheets: [sheet] }
})()
const turn: Turn = {
  ...newTurn('t', 'T', base.sheets[0].id, { turns: 2, framesPerTurn: 8 }),
  reveals: [
    {
      id: 'r',
      layerId: 'wire',
      kind: 'fade',
      from: 8,
      whole: 12,
      goes: 14,
      gone: 16,
      ease: 'even',
      angleDeg: 0,
      softness: 0,
      centre: [0.5, 0.5],
      parts: [],
    },
  ],
}
const namesOf = (project: Project, own: Turn): string[] => {
  const nameOf = frameNames(turnStage(project, own, [0, 0, 0]))
  return Array.from({ length: 16 }, (_, i) => nameOf(i))
}
const names = namesOf(base, turn)
const changed = (project: Project, own: Turn): number[] =>
  namesOf(project, own).flatMap((name, i) => (name === names[i] ? [] : [i]))
const withNode = (id: string, patch: object): Project => ({
  ...base,
  sheets: [
    {
      ...base.sheets[0],
      nodes: { ...base.sheets[0].nodes, [id]: { ...base.sheets[0].nodes[id], ...patch } },
    },
  ],
})

describe('names of frames', () => {
  it('are the same each time, and one for each picture', () => {
    expect(namesOf(structuredClone(base), structuredClone(turn))).toEqual(names)
    // The eighth stands as the first does, and the wire has not begun: it is the same picture.
    expect(names[8]).toBe(names[0])
    expect(new Set(names).size).toBe(15)
  })
  it('change where the picture does', () => {
    expect(changed(withNode('sky', { opacity: 0.5 }), turn)).toHaveLength(16)
    expect(changed(base, { ...turn, quality: 'draft' })).toHaveLength(16)
    expect(changed(base, { ...turn, width: 640 })).toHaveLength(16)
    expect(changed({ ...base, models: [testModel({ geometryHash: 'other' })] }, turn)).toHaveLength(16)
    const rigs = base.rigs.map((rig) => ({ ...rig, lights: rig.lights.slice(1) }))
    expect(changed({ ...base, rigs }, turn)).toHaveLength(16)
  })
  it('change with a key only in the frames that it changes', () => {
    const [reveal] = turn.reveals
    // 9 to 11 come in otherwise; before nothing is seen of it, after all.
    expect(changed(base, { ...turn, reveals: [{ ...reveal, ease: 'slow out' }] })).toEqual([9, 10, 11, 15])
    expect(changed(base, { ...turn, reveals: [{ ...reveal, whole: 13 }] })).toEqual([9, 10, 11, 12])
  })
  it('do not change with what no frame shows', () => {
    const rendered = base.passes.map((pass) => ({ ...pass, name: 'other', rendered: testRendered() }))
    expect(changed({ ...base, passes: rendered, name: 'Q' }, { ...turn, name: 'U', marks: [1, 4] })).toEqual(
      [],
    )
    const sheets = base.sheets.map((sheet) => ({ ...sheet, name: 'other' }))
    expect(changed({ ...base, sheets }, turn)).toEqual([])
    expect(changed({ ...base, shots: base.shots.map((shot) => ({ ...shot, locked: true })) }, turn)).toEqual(
      [],
    )
  })
})

describe('what is saved', () => {
  it('are frames that stand alike, and passes where no layer shows them', () => {
    const stage = turnStage(base, turn, [0, 0, 0])
    const { frames, poses, passes } = savingsOf(turnPoses(stage), stage)
    expect({ frames, poses }).toEqual({ frames: 16, poses: 8 })
    const seen = (kind: string) =>
      passes.find(({ passId }) => base.passes.find(({ id }) => id === passId)?.kind === kind)?.frames
    expect(seen(base.passes[0].kind)).toBe(16)
    // From the ninth frame to the last: in the eighth it has not begun.
    expect(seen('wireframe')).toBe(7)
  })
})

describe('names of frames with what is counted and what was brought in', () => {
  const typed = (text: string) => contentOf('type', { text, fontId: 'anton', box: [0, 0, 1, 1] })
  it('follow what words in braces stand for', () => {
    const said = (text: string, rest: Partial<Project> = {}) =>
      namesOf({ ...withNode('sky', { content: typed(text) }), ...rest }, turn)
    expect(new Set(said('{frame}')).size).toBe(16)
    // What says the same in both turns is the same picture where all else is.
    expect(said('{angle}')[8]).toBe(said('{angle}')[0])
    expect(said('{turn}')[8]).not.toBe(said('{turn}')[0])
    expect(said('{project}', { name: 'Q' })[3]).not.toBe(said('{project}')[3])
    expect(said('plain', { name: 'Q' })).toEqual(said('plain'))
  })
  it('change only where another picture of a sequence is seen', () => {
    const frames = (third: string) =>
      ['a', 'b', third, 'd'].map((fileId, number) => ({ number, name: `${fileId}.png`, fileId }))
    const sequence = {
      sequenceId: 'fog',
      rate: null,
      from: 0,
      to: 4,
      reverse: false,
      after: 'hold' as const,
      begins: 2,
      gaps: 'before' as const,
    }
    const brought = (third: string) => ({
      ...withNode('sky', { content: { ...wholePicture('a'), sequence } }),
      sequences: [{ id: 'fog', name: 'fog', width: 8, height: 8, first: 0, frames: frames(third) }],
    })
    const [one, other] = ['c', 'x'].map((third) => namesOf(brought(third), turn))
    expect(one.flatMap((name, i) => (name === other[i] ? [] : [i]))).toEqual([4])
  })
})

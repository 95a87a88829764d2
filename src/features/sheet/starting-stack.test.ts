import { testRendered } from '@/data/testing/fixtures'
import { describe, expect, it } from 'vitest'
import { parseParams } from '@/core/params'
import { PASS_KINDS, passKind } from '@/core/passes/registry'
import { nodeSchema } from '@/core/sheet/sheet-schema'
import { newPass, newProject } from '@/data/new-project'
import { startingLayers } from './starting-stack'

const rendered = testRendered()

describe('startingLayers', () => {
  it('hangs a ground and each rendered pass once, with looks its pass accepts', () => {
    const project = newProject('p')
    project.passes = PASS_KINDS.map((kind) => ({ ...newPass(project.shotId, kind), rendered }))
    const layers = startingLayers(project)
    expect(layers).toHaveLength(1 + PASS_KINDS.length)
    expect(new Set(layers.map((l) => l.id)).size).toBe(layers.length)
    for (const layer of layers) {
      nodeSchema.parse(layer)
      if (layer.content.kind !== 'pass') continue
      const { passId, look } = layer.content
      const pass = project.passes.find((p) => p.id === passId)
      if (!pass) throw new Error(`${layer.name} names no pass`)
      expect(() => parseParams(passKind(pass.kind).lookSchema, look, pass.kind)).not.toThrow()
    }
  })
  it('leaves out what is not rendered', () => {
    const project = newProject('p')
    project.passes = project.passes.map((pass) => ({
      ...pass,
      rendered: pass.kind === 'clay' || pass.kind === 'contour' ? rendered : null,
    }))
    expect(startingLayers(project).map((l) => l.name)).toEqual(['Ground', 'Clay', 'Contour'])
  })
})

'use client'

import { passKind } from '@/core/passes/registry'
import { activePasses } from '@/data/active-shot'
import type { Project, ProjectPass } from '@/data/project-schema'
import { addSecondLighting, duplicatePass, layersOfPass, removePass } from '@/state/pass-actions'
import { setBench } from '@/state/view-store'

/** What can be made of a pass, and its end. */
export function PassFoot({ project, pass }: { readonly project: Project; readonly pass: ProjectPass }) {
  const kind = passKind(pass.kind)
  const shown = layersOfPass(pass.id)
  return (
    <section className="section" style={{ display: 'flex', flexWrap: 'wrap', gap: 14 }}>
      <button
        className="link"
        data-testid="duplicate-pass"
        onClick={() => {
          const id = duplicatePass(pass.id)
          if (id) setBench({ passId: id })
        }}
      >
        Duplicate
      </button>
      {kind.usesLights(pass.params) && (
        <button
          className="link"
          data-testid="second-lighting"
          title="A copy of this pass under another rig, to take single materials from"
          onClick={() => {
            const id = addSecondLighting(pass.id)
            if (id) setBench({ passId: id })
          }}
        >
          Second lighting
        </button>
      )}
      <button
        className="link"
        data-testid="remove-pass"
        disabled={activePasses(project).length < 2}
        onClick={() => removePass(pass.id)}
      >
        {shown > 0 ? `Remove, with ${shown} ${shown === 1 ? 'layer' : 'layers'}` : 'Remove'}
      </button>
    </section>
  )
}

'use client'

import { passKind } from '@/core/passes/registry'
import { rigOf, rigOfPass, shotOf } from '@/data/active-shot'
import type { Project, ProjectPass } from '@/data/project-schema'
import { changePass, setPassRig } from '@/state/pass-actions'
import { SelectRow } from '@/ui/select-row'
import { PartChecklist } from '../shot/part-checklist'

/** Which parts and lights a pass holds. */
export function PassMembers({ project, pass }: { project: Project; pass: ProjectPass }) {
  const { members } = pass
  const kind = passKind(pass.kind)
  // Lines may be thin towards a light without having been rendered under it.
  const usesLights = kind.usesLights(pass.params) || 'lightFrom' in kind.lookSchema.shape
  const lights = rigOfPass(project, pass).lights.filter((light) => light.on)
  const held = new Set(members.lights ?? lights.map((l) => l.id))
  const change = (label: string, patch: Partial<typeof members>) =>
    changePass(pass.id, label, (draft) => Object.assign(draft.members, patch))
  const toggleLight = (id: string) => {
    const next = new Set(held)
    if (!next.delete(id)) next.add(id)
    const all = lights.every((l) => next.has(l.id))
    change('lights of a pass', { lights: all ? null : lights.filter((l) => next.has(l.id)).map((l) => l.id) })
  }
  const allParts = project.models.flatMap((m) => m.parts).filter((p) => p.polygons > 0)
  const throwing =
    members.letThrough.length === 0
      ? null
      : allParts.filter((p) => !members.letThrough.includes(p.key)).map((p) => p.key)
  return (
    <section className="section">
      <div className="section-head">
        <span>Holds</span>
        <span className="quiet">needs another render</span>
      </div>
      <PartChecklist
        project={project}
        label="Parts in it"
        keys={members.parts}
        onChange={(parts) => change('parts of a pass', { parts })}
      />
      {members.parts !== null && (
        <SelectRow
          id={`others-${pass.id}`}
          label="Other parts"
          value={members.others}
          onChange={(picked) =>
            change('other parts of a pass', {
              others: picked === 'look past' ? 'look past' : 'hold out',
            })
          }
        >
          <option value="hold out">stay empty in their place</option>
          <option value="look past">are not there</option>
        </SelectRow>
      )}
      <PartChecklist
        project={project}
        label="Blocks light"
        keys={throwing}
        onChange={(keys) =>
          change('what is in the way of light', {
            letThrough: keys === null ? [] : allParts.map((p) => p.key).filter((key) => !keys.includes(key)),
          })
        }
      />
      {usesLights && (
        <SelectRow
          id={`rig-${pass.id}`}
          label="Lit by"
          testId="pass-rig"
          value={pass.rigId ?? ''}
          onChange={(picked) => setPassRig(pass.id, picked === '' ? null : picked)}
        >
          <option value="">{rigOf(project, shotOf(project, pass)).name}, as its shot</option>
          {project.rigs.map((rig) => (
            <option key={rig.id} value={rig.id}>
              {rig.name}
            </option>
          ))}
        </SelectRow>
      )}
      {usesLights && (
        <div role="group" aria-label="Lights in it" className="pick-list">
          {lights.map((light) => (
            <label key={light.id}>
              <input type="checkbox" checked={held.has(light.id)} onChange={() => toggleLight(light.id)} />
              {light.name}
            </label>
          ))}
          {lights.length === 0 && <span className="quiet">No light of the rig is on.</span>}
        </div>
      )}
    </section>
  )
}

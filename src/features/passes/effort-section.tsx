'use client'

import Switch from '@mui/material/Switch'
import { passKind } from '@/core/passes/registry'
import type { ProjectPass } from '@/data/project-schema'
import { changePass } from '@/state/pass-actions'
import { NumberField } from '@/ui/number-field'

/** Samples and rays of a custom render, and whether it is smoothed. */
export function EffortSection({ pass }: { readonly pass: ProjectPass }) {
  const kind = passKind(pass.kind)
  return (
    <section className="section">
      <div className="section-head">
        <span>Effort</span>
        <span className="quiet">of a custom render</span>
      </div>
      <NumberField
        label="Samples"
        value={pass.effort.samples}
        min={1}
        max={256}
        step={1}
        unit="a pixel"
        defaultValue={kind.efforts.final.samples}
        logarithmic
        onChange={(v) =>
          changePass(pass.id, 'samples', (draft) => void (draft.effort.samples = Math.round(v)), 'samples')
        }
      />
      <NumberField
        label="Rays"
        value={pass.effort.rays}
        min={0}
        max={256}
        step={1}
        unit="a sample"
        defaultValue={kind.efforts.final.rays}
        onChange={(v) =>
          changePass(pass.id, 'rays', (draft) => void (draft.effort.rays = Math.round(v)), 'rays')
        }
      />
      {kind.canDenoise && (
        <div className="row">
          <label className="label" htmlFor={`denoise-${pass.id}`}>
            Smooth noise
          </label>
          <span className="wide" style={{ textAlign: 'right' }}>
            <Switch
              size="small"
              color="secondary"
              checked={pass.denoise}
              onChange={(e) =>
                changePass(pass.id, 'smooth noise', (draft) => void (draft.denoise = e.target.checked))
              }
              slotProps={{ input: { id: `denoise-${pass.id}` } }}
            />
          </span>
        </div>
      )}
    </section>
  )
}

'use client'

import { passKind, type PassKindName } from '@/core/passes/registry'
import type { Rendered } from '@/data/project-schema'

/** What a pass's last render was. */
export function LastRender({
  kind: name,
  rendered,
}: {
  readonly kind: PassKindName
  readonly rendered: Rendered
}) {
  const kind = passKind(name)
  return (
    <section className="section">
      <div className="section-head">Last render</div>
      {(
        [
          ['Quality', rendered.denoised ? `${rendered.quality}, smoothed` : rendered.quality],
          ['Size', `${rendered.width} × ${rendered.height}`],
          ['Rays', rendered.rays.toLocaleString('en')],
          ['Worker time', `${rendered.seconds.toFixed(1)} s`],
          ...(kind.isSampled ? [['Samples', String(rendered.samples)] as const] : []),
          ...(typeof rendered.facts.lines === 'number'
            ? [['Lines', rendered.facts.lines.toLocaleString('en')] as const]
            : []),
        ] as const
      ).map(([label, value]) => (
        <div className="row" key={label}>
          <span className="label">{label}</span>
          <span />
          <b>{value}</b>
        </div>
      ))}
      <p className="quiet" style={{ marginBottom: 0 }}>
        {kind.lines ? 'Weight, style' : 'Strength, tint'} and colour are set on the layer in Sheet, live.
      </p>
    </section>
  )
}

'use client'

import { useRef, useState } from 'react'
import Button from '@mui/material/Button'
import { findingsOf } from '@/core/geometry/findings'
import { REPAIR_KINDS, repairKind, type Repair, type RepairKindName } from '@/core/geometry/repairs/registry'
import { paramDefaults } from '@/core/params'
import type { ProjectModel } from '@/data/project-schema'
import { useActions } from '@/state/actions'
import { useMeshStore } from '@/state/mesh-store'
import { removeModel, repairModel, setRepairs } from '@/state/model-actions'
import { useMeshReport } from '@/state/use-mesh-report'
import { ParamsInspector } from '@/ui/params-inspector'
import { totalOf } from './part-cells'
import { ReportPanelStyles } from './report-panel-styles'

interface ReportPanelProps {
  readonly model: ProjectModel
  readonly onReplace: () => void
}

/** What is known of a model, what is wrong with it, and what was done about that. */
export function ReportPanel({ model, onReplace }: ReportPanelProps) {
  const { report, problem: unknown } = useMeshReport(model.id)
  const notes = useMeshStore((s) => s.models[model.id]?.notes)
  const problem = useMeshStore((s) => s.problems[model.id])
  const [busy, setBusy] = useState<string | null>(null)
  const [failed, setFailed] = useState<string | null>(null)
  const polygons = totalOf(model.polygons)
  const findings = report ? findingsOf(report, polygons) : []
  const faults = findings.filter((finding) => finding.level === 'fault')
  const run = async (what: string, work: () => Promise<string | null>) => {
    setBusy(what)
    setFailed(await work())
    setBusy(null)
  }
  const mend = (repairs: readonly Repair[], code: string) => void run(code, () => repairModel(model, repairs))
  const mendable = faults.flatMap((finding) => finding.repair ?? [])
  useActions('Report', [
    ...(mendable.length > 0 && busy === null
      ? [{ id: 'mend', label: 'Mend all', keys: 'x', run: () => mend(mendable, 'all') }]
      : []),
    ...(busy === null
      ? findings.flatMap(({ code, repair }) =>
          repair
            ? [
                {
                  id: code,
                  label: `Mend: ${repairKind(repair.kind).label.toLowerCase()}`,
                  run: () => mend([repair], code),
                },
              ]
            : [],
        )
      : []),
  ])
  return (
    <>
      <ReportPanelStyles />
      {problem && (
        <div className="problem" role="alert">
          {problem}
        </div>
      )}
      {unknown && (
        <div className="problem" role="alert">
          It could not be looked over: {unknown}
        </div>
      )}
      {!report && !problem && !unknown && (
        <section className="section" aria-live="polite">
          <div className="section-head">Looking it over …</div>
        </section>
      )}
      {report && (
        <section className="section">
          <div className="section-head">
            <b>{faults.length === 0 ? 'Nothing amiss' : 'Worth mending'}</b>
            {mendable.length > 0 && (
              <button className="link" disabled={busy !== null} onClick={() => mend(mendable, 'all')}>
                {busy === 'all' ? 'Mending' : 'Mend all'}
              </button>
            )}
          </div>
          <ul className="findings">
            {findings.map((finding) => (
              <li key={finding.code} data-level={finding.level} data-code={finding.code}>
                <span>{finding.text}</span>
                {finding.repair && (
                  <button
                    className="link"
                    disabled={busy !== null}
                    onClick={() => mend([finding.repair as Repair], finding.code)}
                  >
                    {busy === finding.code ? 'At work' : repairKind(finding.repair.kind).label}
                  </button>
                )}
              </li>
            ))}
            {findings.length === 0 && <li data-level="note">No loose ends, no holes, no doubles.</li>}
          </ul>
          {failed && (
            <div className="problem" role="alert">
              {failed}
            </div>
          )}
        </section>
      )}
      {model.repairs.length > 0 && (
        <section className="section">
          <div className="section-head">Mended by you</div>
          {model.repairs.map((repair, i) => (
            // The order is what tells them apart: one repair may be there twice.
            <RepairRow
              key={`${i} ${repair.kind}`}
              repair={repair}
              note={notes?.[i]}
              busy={busy !== null}
              onChange={(changed) => {
                const repairs = model.repairs.flatMap((r, j) => (j === i ? (changed ?? []) : r))
                const label = changed ? repairKind(repair.kind).label.toLowerCase() : 'take repair back'
                return run(repair.kind, () => setRepairs(model, repairs, label))
              }}
            />
          ))}
        </section>
      )}
      {model.warnings.length > 0 && (
        <section className="section">
          <div className="section-head">Mended on the way in</div>
          <ul className="findings">
            {model.warnings.map((w) => (
              <li key={w.code + w.part + w.message} data-level="note">
                <span>
                  {w.part && <b>{w.part}: </b>}
                  {w.message}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <section className="section">
        <div className="section-head">Counted</div>
        {(
          [
            ['Triangles', model.polygons[3]],
            ['Quads', model.polygons[4]],
            ['More sides', model.polygons.more],
            ['Vertices', report?.vertices],
            ['Pieces', report?.shells],
          ] as const
        ).map(([label, count]) => (
          <div className="row fact" key={label}>
            <span className="label">{label}</span>
            <b>{count?.toLocaleString('en') ?? '…'}</b>
          </div>
        ))}
        {report?.bounds && (
          <div className="row fact">
            <span className="label">Size</span>
            <b>
              {report.bounds.max
                .map((v, axis) =>
                  Number((v - (report.bounds?.min[axis] ?? 0)).toPrecision(3)).toLocaleString('en'),
                )
                .join(' × ')}
            </b>
          </div>
        )}
      </section>
      <section className="section" style={{ display: 'flex', flexWrap: 'wrap', gap: 6 }}>
        <select
          className="plain-select"
          aria-label="Another repair"
          value=""
          disabled={busy !== null}
          style={{ width: '100%', marginBottom: 6 }}
          onChange={(e) => {
            const kind = e.target.value as RepairKindName
            const params = paramDefaults(repairKind(kind).schema)
            mend([{ kind, params: { ...params }, parts: null }], kind)
          }}
        >
          <option value="">Another repair …</option>
          {REPAIR_KINDS.map((kind) => (
            <option key={kind} value={kind} title={repairKind(kind).summary}>
              {repairKind(kind).label}
            </option>
          ))}
        </select>
        {model.source.type === 'file' && (
          <Button variant="outlined" size="small" onClick={onReplace}>
            Replace by a newer file
          </Button>
        )}
        <Button variant="text" size="small" onClick={() => removeModel(model.id)}>
          Remove
        </Button>
      </section>
    </>
  )
}

interface RepairRowProps {
  readonly repair: Repair
  readonly note: string | undefined
  readonly busy: boolean
  /** Null takes it back. */
  readonly onChange: (repair: Repair | null) => Promise<void>
}

function RepairRow({ repair, note, busy, onChange }: RepairRowProps) {
  const kind = repairKind(repair.kind)
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null)
  /** What the hand has set and the mesh has not followed yet. */
  const [pending, setPending] = useState<Repair['params'] | null>(null)
  const params = pending ?? repair.params
  return (
    <div className="repair">
      <div className="repair-head">
        <span>
          <b>{kind.label}</b> <span className="quiet">{note}</span>
        </span>
        <button className="link" disabled={busy} onClick={() => void onChange(null)}>
          Take back
        </button>
      </div>
      <ParamsInspector
        schema={kind.schema}
        values={params}
        onChange={(name, value) => {
          const next = { ...params, [name]: value }
          setPending(next)
          // The file is read anew for it: wait until the hand rests.
          if (timer.current) clearTimeout(timer.current)
          timer.current = setTimeout(() => {
            void onChange({ ...repair, params: next }).finally(() => setPending(null))
          }, 300)
        }}
      />
    </div>
  )
}

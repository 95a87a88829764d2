'use client'

import { layersOf } from '@/core/sheet/sheet-tree'
import type { ProjectSheet } from '@/data/project-schema'
import { changeSheet } from '@/state/sheet-actions'
import { setBench } from '@/state/view-store'
import { changeAnyLayer } from '../sheet/layer-actions'

interface SheetLayersProps {
  readonly sheet: ProjectSheet
  readonly title: string
}

/** What lies on a page or in a mock-up, the front first. */
export function SheetLayers({ sheet, title }: SheetLayersProps) {
  const layers = layersOf(sheet)
    .filter(({ id }) => sheet.roots.includes(id))
    .reverse()
  const move = (id: string, by: 1 | -1) =>
    changeSheet('order of layers', (draft) => {
      const at = draft.roots.indexOf(id)
      const to = at + by
      if (at < 0 || to < 0 || to >= draft.roots.length) return
      draft.roots.splice(at, 1)
      draft.roots.splice(to, 0, id)
    })
  return (
    <section className="section">
      <div className="section-head">
        <span>{title}</span>
        <span className="quiet">front first</span>
      </div>
      {layers.length === 0 && <p className="quiet">Nothing yet.</p>}
      <ul className="page-list">
        {layers.map(({ id, name, visible }) => (
          <li key={id}>
            <button
              className="row-name"
              onClick={() => setBench({ layerId: id })}
              style={{ opacity: visible ? 1 : 0.55 }}
            >
              {name}
            </button>
            <button
              className="link"
              aria-label={`Bring ${name} forward`}
              title="Forward"
              onClick={() => move(id, 1)}
            >
              ↑
            </button>
            <button
              className="link"
              aria-label={`Send ${name} back`}
              title="Back"
              onClick={() => move(id, -1)}
            >
              ↓
            </button>
            <button
              className="link"
              aria-label={`${visible ? 'Hide' : 'Show'} ${name}${sheet.page ? ' in this format' : ''}`}
              onClick={() =>
                changeAnyLayer(id, visible ? 'hide layer' : 'show layer', (l) => void (l.visible = !visible))
              }
            >
              {visible ? 'Hide' : 'Show'}
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}

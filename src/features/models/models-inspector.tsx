'use client'

import type { Project, ProjectModel } from '@/data/project-schema'
import { changeModel } from '@/state/model-actions'
import { PanelTabs } from '@/ui/panel-tabs'
import { MaterialsPanel } from './materials-panel'
import { PlacePanel } from './place-panel'
import { ReportPanel } from './report-panel'

export const PANELS = ['report', 'materials', 'place'] as const
export type Panel = (typeof PANELS)[number]
export const panelLabels: Readonly<Record<Panel, string>> = {
  report: 'Report',
  materials: 'Materials',
  place: 'Place',
}

interface ModelsInspectorProps {
  readonly project: Project
  readonly model: ProjectModel | undefined
  readonly panel: Panel
  readonly onPanel: (panel: Panel) => void
  readonly onReplace: (modelId: string) => void
  readonly onPin: () => void
  readonly onProblem: (problem: string) => void
}

/** The model at work: its report, its materials, where it stands. */
export function ModelsInspector(props: ModelsInspectorProps) {
  const { project, model, panel, onPanel, onReplace, onPin, onProblem } = props
  return (
    <aside className="inspector" aria-label="Inspector">
      <div className="inspector-head">
        {model ? (
          <>
            <input
              className="title-input display"
              aria-label="Name of the model"
              value={model.name}
              onChange={(e) =>
                changeModel(model.id, 'rename model', (m) => void (m.name = e.target.value), 'name')
              }
            />
            <span className="quiet">{model.source.type === 'file' ? 'model' : 'made here'}</span>
          </>
        ) : (
          <h2 className="display">Nothing yet</h2>
        )}
      </div>
      {model ? (
        <>
          <PanelTabs
            label="What is shown"
            names={PANELS}
            labels={panelLabels}
            chosen={panel}
            onChoose={onPanel}
          >
            {panel === 'report' && (
              <ReportPanel key={model.id} model={model} onReplace={() => onReplace(model.id)} />
            )}
            {panel === 'materials' && <MaterialsPanel project={project} onPin={onPin} />}
            {panel === 'place' && <PlacePanel project={project} model={model} onProblem={onProblem} />}
          </PanelTabs>
        </>
      ) : (
        <p className="quiet">
          What you bring in is described here: parts, polygons, materials, and anything that had to be mended.
        </p>
      )}
    </aside>
  )
}

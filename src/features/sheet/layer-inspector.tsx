'use client'

import { useState, type ReactNode } from 'react'
import type { HandEdit } from '@/core/lines/hand-weights'
import { passKind } from '@/core/passes/registry'
import { contentSchema } from '@/core/sheet/contents/registry'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import type { Project } from '@/data/project-schema'
import { ParamSourcesProvider } from '@/ui/fields/param-sources'
import { useParamSources } from './use-param-sources'
import { passStatus } from '@/state/pass-status'
import { renderAgain } from '@/state/render-queue'
import { besideSheets } from '@/state/use-beside-sheets'
import { layerProblem, useSourceProblems } from '@/state/source-problems'
import { ContentSection } from './content-section'
import { EffectsSection } from './effects-section'
import { CracksSection } from './cracks-section'
import { FallenShadowSection } from './fallen-shadow-section'
import { FillSection } from './fill-section'
import { GateSection } from './gate-section'
import { GroupSection } from './group-section'
import { HandSection } from './hand-section'
import { changeLayer } from './layer-actions'
import { LayerSection } from './layer-section'
import { LightingSection } from './lighting-section'
import { LookSection } from './look-section'
import { MaskSection } from './mask-section'
import { PaintedSection } from './painted-section'
import { PictureSection } from './picture-section'
import { PressingSection } from './pressing-section'
import { SheetDiffers } from './sheet-differs'
import type { Picking } from './use-sheet-actions'

interface LayerInspectorProps {
  readonly project: Project
  readonly layer: SheetNode
  readonly picking: Picking
  /** Left out where the picture does not lie as the shot does: there is nothing to be picked. */
  readonly setPicking?: (kind: Picking) => void
  /** What the step adds for what this layer holds. */
  readonly own?: ReactNode
}

const contentWords = {
  pass: 'pass layer',
  fill: 'fill layer',
  picture: 'picture layer',
  group: 'group',
  wash: 'wash',
  texture: 'texture layer',
  type: 'type',
  sheet: 'sheet',
  mockup: 'mock-up',
  fitted: 'page in a picture',
  flare: 'light flare',
  specks: 'specks',
  fallenShadow: 'fallen shadow',
  castShadow: 'shadow of a layer',
  cracks: 'grown lines',
  pressing: 'live pressing',
  painted: 'painted layer',
  unreadable: 'unknown layer',
} as const

/** Everything of the chosen layer. */
export function LayerInspector({ project, layer, picking, setPicking, own }: LayerInspectorProps) {
  const { content } = layer
  const pass = content.kind === 'pass' ? project.passes.find((p) => p.id === content.passId) : undefined
  const status = pass ? passStatus(project, pass) : null
  const broken = useSourceProblems((s) => layerProblem(layer, s))
  const [renaming, setRenaming] = useState(false)
  const beside = besideSheets(project)
  const rename = (name: string) => {
    setRenaming(false)
    if (name.trim()) changeLayer(layer.id, 'rename layer', (l) => void (l.name = name.trim()))
  }
  const sources = useParamSources(project, layer.id)
  return (
    <ParamSourcesProvider value={sources}>
      <div className="inspector-head">
        {renaming ? (
          <input
            className="plain-select"
            autoFocus
            aria-label="Layer name"
            defaultValue={layer.name}
            style={{ fontSize: 17, width: '100%' }}
            onBlur={(e) => rename(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === 'Enter') rename(e.currentTarget.value)
              if (e.key === 'Escape') setRenaming(false)
            }}
          />
        ) : (
          <h2 className="display" onDoubleClick={() => setRenaming(true)} title="Double-click to rename">
            {layer.name}
          </h2>
        )}
        <span className="quiet" style={{ whiteSpace: 'nowrap' }}>
          {contentWords[content.kind]}
        </span>
      </div>
      {status && status.state !== 'ready' && pass && (
        <div className="problem" style={{ marginBottom: 12 }}>
          {status.state === 'empty'
            ? 'Its pass is not rendered.'
            : `Out of register: ${status.reasons.join('; ')}.`}{' '}
          <button className="link" onClick={() => renderAgain([pass.id])}>
            Render again
          </button>
        </div>
      )}
      {content.kind === 'unreadable' && (
        <div className="problem" role="status" style={{ marginBottom: 12 }} data-testid="content-unreadable">
          It shows nothing: {content.why}. It is kept as it is.
        </div>
      )}
      {broken && (
        <div className="problem" role="status" style={{ marginBottom: 12 }} data-testid="source-broken">
          {content.kind === 'painted' || content.kind === 'group'
            ? 'It shows less than it should'
            : 'It shows nothing'}
          : {broken}.
        </div>
      )}
      <SheetDiffers project={project} />
      {own}
      <LayerSection layer={layer} onRename={() => setRenaming(true)} />
      {content.kind === 'pass' && pass && <LookSection layerId={layer.id} pass={pass} look={content.look} />}
      {content.kind === 'pass' && pass && passKind(pass.kind).lines && (
        <HandSection layerId={layer.id} edits={content.byHand ?? NO_EDITS} />
      )}
      {content.kind === 'fill' && <FillSection layerId={layer.id} content={content} />}
      {content.kind === 'picture' && <PictureSection layerId={layer.id} content={content} />}
      {!own && contentSchema(content) && <ContentSection layerId={layer.id} content={content} />}
      {content.kind === 'fallenShadow' && (
        <FallenShadowSection project={project} layerId={layer.id} content={content} />
      )}
      {content.kind === 'cracks' && <CracksSection layerId={layer.id} content={content} />}
      <PaintedSection project={project} layer={layer} />
      {content.kind === 'pressing' && <PressingSection project={project} layer={layer} content={content} />}
      {content.kind === 'group' && <GroupSection layer={layer} content={content} />}
      <LightingSection project={project} layer={layer} />
      <MaskSection
        key={layer.id}
        project={beside}
        layerId={layer.id}
        mask={layer.mask}
        picking={picking}
        setPicking={setPicking}
      />
      <GateSection layerId={layer.id} gate={layer.gate} />
      <EffectsSection
        key={`effects ${layer.id}`}
        layerId={layer.id}
        effects={layer.effects}
        isWash={content.kind === 'wash'}
        name={layer.name}
      />
    </ParamSourcesProvider>
  )
}

const NO_EDITS: readonly HandEdit[] = []

'use client'

import Button from '@mui/material/Button'
import { passKind } from '@/core/passes/registry'
import { layersOf } from '@/core/sheet/sheet-tree'
import { activeSheet } from '@/data/active-shot'
import type { Project, ProjectPass } from '@/data/project-schema'
import { nothingToRender } from '@/state/render-check'
import { renderPasses } from '@/state/render-where'

interface RenderButtonsProps {
  readonly project: Project
  readonly pass: ProjectPass
  readonly onSheet: () => void
}

/** Renders one pass, and lays it on the sheet. */
export function RenderButtons({ project, pass, onSheet }: RenderButtonsProps) {
  const sampled = passKind(pass.kind).isSampled
  const hasModel = nothingToRender(project) === null
  const layerCount = layersOf(activeSheet(project)).filter(
    ({ content }) => content.kind === 'pass' && content.passId === pass.id,
  ).length
  return (
    <section className="section" style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
      {(sampled ? (['draft', 'good', 'final', 'custom'] as const) : (['final'] as const)).map((quality) => (
        <Button
          key={quality}
          variant="outlined"
          size="small"
          disabled={!hasModel}
          data-testid={`one-${quality}`}
          onClick={() => renderPasses([pass.id], quality)}
          sx={{ flex: 1, minWidth: 0, textTransform: sampled ? 'capitalize' : 'none' }}
        >
          {sampled ? quality : 'Find the lines'}
        </Button>
      ))}
      <Button
        variant="outlined"
        size="small"
        disabled={!pass.rendered}
        onClick={onSheet}
        data-testid="to-sheet"
        sx={{ flexBasis: '100%' }}
      >
        {layerCount > 0 ? 'Layer again' : 'Layer it'}
      </Button>
    </section>
  )
}

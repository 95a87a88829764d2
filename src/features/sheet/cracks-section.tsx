'use client'

import type { ContentOf } from '@/core/sheet/contents/registry'
import { plural } from '@/core/plural'
import { changeContent } from './layer-actions'
import { setPaint } from './paint/paint-store'

interface CracksSectionProps {
  readonly layerId: string
  readonly content: ContentOf<'cracks'>
}

/** What a layer of cracks grows from. */
export function CracksSection({ layerId, content }: CracksSectionProps) {
  const count = content.lines.length
  return (
    <section className="section">
      <div className="section-head">
        <span>Drawn lines</span>
        <button className="link" onClick={() => setPaint({ tool: 'crack' })} data-testid="draw-cracks">
          Draw more
        </button>
      </div>
      <div className="row">
        <span className="quiet">{count === 0 ? 'None yet' : plural(count, 'line')}</span>
        <button
          className="link"
          disabled={count === 0}
          onClick={() =>
            changeContent(layerId, 'cracks', 'take the last line away', (own) => void own.lines.pop())
          }
        >
          Take the last away
        </button>
      </div>
    </section>
  )
}

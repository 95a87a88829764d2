'use client'

import type { ContentOf } from '@/core/sheet/contents/registry'
import { isPassThrough } from '@/core/sheet/evaluate/plan-sheet'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { plural } from '@/core/plural'
import { SwitchRow } from '@/ui/switch-row'
import { changeContent, foldGroup, ungroup } from './layer-actions'

/** How a group is composed, and what can be done with it as a whole. */
export function GroupSection({
  layer,
  content,
}: {
  readonly layer: SheetNode
  readonly content: ContentOf<'group'>
}) {
  const isForced = !content.isolated && !isPassThrough(layer)
  return (
    <section className="section">
      <div className="section-head">
        <span>Group</span>
        <span>
          <button className="link" onClick={() => foldGroup(layer.id, !content.folded)}>
            {content.folded ? 'Open' : 'Fold'}
          </button>
          <button className="link" onClick={() => ungroup(layer.id)}>
            Take apart
          </button>
        </span>
      </div>
      <SwitchRow
        label="Isolated"
        note="Composed alone and then blended; else its layers blend into what lies beneath"
        checked={content.isolated}
        onChange={(v) =>
          changeContent(
            layer.id,
            'group',
            v ? 'isolate group' : 'let group through',
            (group) => void (group.isolated = v),
          )
        }
      />
      <span className="quiet">
        {isForced
          ? 'Its mode, confinement or effects are of its own picture: it is composed alone all the same.'
          : `Holds ${plural(content.children.length, 'layer', 'layers')}.`}
      </span>
    </section>
  )
}

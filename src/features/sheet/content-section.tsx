'use client'

import { memo } from 'react'
import type { ParamValues } from '@/core/params'
import { contents, contentSchema, type Content } from '@/core/sheet/contents/registry'
import { ParamsInspector } from '@/ui/params-inspector'
import { changeLayer } from './layer-actions'

interface ContentSectionProps {
  readonly layerId: string
  readonly content: Content
}

/** What a layer holds whose fields are parameters. */
export const ContentSection = memo(function ContentSection({ layerId, content }: ContentSectionProps) {
  const schema = contentSchema(content)
  if (!schema) return null
  return (
    <section className="section">
      <div className="section-head">{contents.kind(content.kind)?.label}</div>
      <ParamsInspector
        schema={schema}
        values={content as unknown as ParamValues}
        onChange={(name, value, label) =>
          changeLayer(
            layerId,
            label.toLowerCase(),
            (layer) => {
              if (layer.content.kind === content.kind) Object.assign(layer.content, { [name]: value })
            },
            `content ${name}`,
          )
        }
      />
    </section>
  )
})

'use client'

import { PAINT_TOOLS, setPaint, usePaint, type PaintTool } from './paint-store'

/** What the brush does, as words above the picture. */
export function PaintTools() {
  const tool = usePaint((s) => s.tool)
  return (
    <div className="paint-tools" role="group" aria-label="What the brush does">
      {Object.entries(PAINT_TOOLS).map(([own, { label, does }]) => (
        <button
          key={own}
          aria-pressed={tool === own}
          title={`${label}: ${does}`}
          data-testid={`paint-${own}`}
          onClick={() => setPaint({ tool: own as PaintTool })}
        >
          {label}
        </button>
      ))}
      <button className="end" onClick={() => setPaint({ tool: null })}>
        Done
      </button>
    </div>
  )
}

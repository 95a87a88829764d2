'use client'

import { useEffect, useRef } from 'react'
import type { BrushUse } from '@/core/paint/brush'
import { sheetService } from '@/state/sheet-sync'

/** Sizes of samples, in pixels of the screen. */
export const SAMPLE = { width: 260, height: 52 }
export const SMALL = { width: 126, height: 34 }
/** A sample is made when the hand rests. Milliseconds. */
const REST_MS = 120

/** A stroke that a brush made. */
export function Sample({
  brush,
  size,
  className,
}: {
  readonly brush: BrushUse
  readonly size: typeof SAMPLE
  readonly className?: string
}) {
  const ref = useRef<HTMLCanvasElement>(null)
  const asked = JSON.stringify(brush)
  useEffect(() => {
    let isCurrent = true
    const timer = setTimeout(() => {
      void sheetService()
        .brushSample(JSON.parse(asked) as BrushUse, { width: 2 * size.width, height: 2 * size.height })
        .then((found) => {
          const context = ref.current?.getContext('2d')
          if (!isCurrent || !context || !ref.current) return
          ref.current.width = found.width
          ref.current.height = found.height
          context.putImageData(new ImageData(found.rgba, found.width, found.height), 0, 0)
        })
        .catch(() => undefined)
    }, REST_MS)
    return () => {
      isCurrent = false
      clearTimeout(timer)
    }
  }, [asked, size])
  return <canvas ref={ref} className={className} aria-hidden="true" />
}

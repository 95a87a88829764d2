'use client'

import { useEffect, useRef, useState } from 'react'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { paintedSheet } from '@/data/shown-sheets'
import { askSheet } from '@/state/sheet-sync'

const SMALL_WIDTH = 96

interface SheetThumbnailProps {
  readonly project: Project
  readonly sheet: ProjectSheet
}

/** A sheet, small, as it was; painted once it comes into sight. */
export function SheetThumbnail({ project, sheet }: SheetThumbnailProps) {
  const ref = useRef<HTMLCanvasElement>(null)
  const [isSeen, setSeen] = useState(false)
  const latest = useRef(project)
  useEffect(() => {
    latest.current = project
  })
  const width = SMALL_WIDTH
  const height = Math.max(16, Math.round((SMALL_WIDTH * sheet.height) / sheet.width))
  useEffect(() => {
    const element = ref.current
    if (!element) return
    const observer = new IntersectionObserver((entries) => {
      if (entries.some(({ isIntersecting }) => isIntersecting)) setSeen(true)
    })
    observer.observe(element)
    return () => observer.disconnect()
  }, [])
  useEffect(() => {
    if (!isSeen) return
    let isCurrent = true
    void askSheet(latest.current, (worker) =>
      worker.raster({
        type: 'sheet-picture',
        sheet: paintedSheet(latest.current, sheet),
        small: { width, height },
      }),
    ).then(
      (made) => {
        const context = isCurrent && made && ref.current?.getContext('2d')
        if (context) context.putImageData(new ImageData(made.rgba, made.width, made.height), 0, 0)
      },
      () => undefined,
    )
    return () => {
      isCurrent = false
    }
  }, [isSeen, sheet, width, height])
  return <canvas ref={ref} width={width} height={height} aria-hidden="true" className="sheet-thumbnail" />
}

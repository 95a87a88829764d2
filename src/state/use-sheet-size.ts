import { useMemo } from 'react'
import type { RenderSize } from '@/core/sheet/sheet-resources'
import { activeSheet } from '@/data/active-shot'
import { useProjectStore } from './project-store'

/** What the sheet at work measures, in its pixels; whoever asks is drawn anew only when that changes. */
export function useSheetSize(): RenderSize {
  const width = useProjectStore(({ project }) => (project ? activeSheet(project).width : 1))
  const height = useProjectStore(({ project }) => (project ? activeSheet(project).height : 1))
  return useMemo(() => ({ width, height }), [width, height])
}

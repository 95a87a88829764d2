import { useEffect, useRef } from 'react'
import { useSortable } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { setBench } from '@/state/view-store'

/** What every card, pane and lip of the rack has in common: it is chosen, dragged, dropped on, and brought into sight. */
export function useRackItem(id: string, chosen: boolean, tabStop: boolean) {
  const elementRef = useRef<HTMLElement | null>(null)
  const { setNodeRef, listeners, transform, isDragging, isOver } = useSortable({ id })
  useEffect(() => {
    if (chosen) elementRef.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  }, [chosen])
  return {
    ref: (element: HTMLElement | null) => {
      elementRef.current = element
      setNodeRef(element)
    },
    role: 'option',
    'aria-selected': chosen,
    tabIndex: tabStop ? 0 : -1,
    'data-layer': id,
    'data-over': isOver && !isDragging,
    style: isDragging && transform ? { transform: CSS.Translate.toString(transform), zIndex: 3 } : undefined,
    onFocus: () => setBench({ layerId: id }),
    onClick: () => setBench({ layerId: id }),
    ...listeners,
  } as const
}

import { useEffect, useRef, type FocusEvent, type MouseEvent } from 'react'
import { useSortable } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { chooseLayer, wayOfChoosing } from './chosen-layers'

/** What every card, pane and lip of the rack has in common: it is chosen, dragged, dropped on, and brought into sight. */
export function useRackItem(id: string, chosen: boolean, leads: boolean, tabStop: boolean) {
  const elementRef = useRef<HTMLElement | null>(null)
  const { setNodeRef, listeners, transform, isDragging, isOver } = useSortable({ id })
  useEffect(() => {
    if (leads) elementRef.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  }, [leads])
  return {
    ref: (element: HTMLElement | null) => {
      elementRef.current = element
      setNodeRef(element)
    },
    role: 'option',
    'aria-selected': chosen,
    tabIndex: tabStop ? 0 : -1,
    'data-leads': leads,
    'data-layer': id,
    'data-over': isOver && !isDragging,
    // A finger sees that it has taken it before it moves.
    'data-held': isDragging,
    style: isDragging && transform ? { transform: CSS.Translate.toString(transform), zIndex: 3 } : undefined,
    // A press says itself how it chooses; keys that bring the focus choose what they bring it to.
    onFocus: (e: FocusEvent<HTMLElement>) => e.currentTarget.matches(':focus-visible') && chooseLayer(id),
    onClick: (e: MouseEvent) => chooseLayer(id, wayOfChoosing(e)),
    ...listeners,
  } as const
}

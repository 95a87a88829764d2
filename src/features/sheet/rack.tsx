'use client'

import { useCallback, useEffect, useRef, useState, type ReactNode } from 'react'
import {
  closestCenter,
  DndContext,
  MouseSensor,
  TouchSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core'
import { SortableContext } from '@dnd-kit/sortable'
import { hasContent } from '@/core/sheet/sheet-schema'
import { activeSheet } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { setBench, useViewStore } from '@/state/view-store'
import { useSame } from '@/ui/use-same'
import { AddLayerMenu } from './add-layer-menu'
import { chooseLayer, chosenIds, dropChosen, wayOfChoosing } from './chosen-layers'
import { GroupTray } from './group-tray'
import { dropPlace, hangingLayers, moveLayer, type DropSide } from './layer-actions'
import { LayerCard } from './layer-card'
import { LayerCardStyles } from './layer-card-styles'
import { Peel } from './peel'
import { RackStyles } from './rack-styles'
import { isFound } from './rack-tools'
import { usePeelStops } from './use-peel-stops'
import { WashPane } from './wash-pane'

/** How far a card is moved by a mouse before it is dragged, in pixels. */
const BY_MOUSE = { activationConstraint: { distance: 6 } }
/** A finger that rests on a card takes it; one that moves on scrolls the rack. Milliseconds, pixels. */
const BY_FINGER = { activationConstraint: { delay: 220, tolerance: 8 } }
/** A card that is let go of no farther than this from where it was taken was pressed, not moved. Pixels. */
const PRESSED_WITHIN = 8

interface RackProps {
  readonly project: Project
  readonly onAddPicture: () => void
  readonly onPress: () => void
}

/** The strip in which the sheet's layers hang, back at the left, front at the right, with the peel along its top. */
export function Rack({ project, onAddPicture, onPress }: RackProps) {
  const sheet = activeSheet(project)
  const { roots } = sheet
  const hanging = hangingLayers(sheet)
  // Every card is drawn anew for another list.
  const ids = useSame(hanging.map(({ id }) => id)) as string[]
  const layerId = useViewStore((s) => s.layerId)
  const alsoChosen = useViewStore((s) => s.alsoChosen)
  const peel = useViewStore((s) => s.peel)
  const hasSmallCards = useViewStore((s) => s.hasSmallCards)
  const query = useViewStore((s) => s.layerQuery)
  const listRef = useRef<HTMLDivElement>(null)
  const downOnGround = useRef(false)
  const [menu, setMenu] = useState<HTMLElement | null>(null)
  const sensors = useSensors(useSensor(MouseSensor, BY_MOUSE), useSensor(TouchSensor, BY_FINGER))
  const { scrollRef, beyond, measure } = useBeyond(hanging.length)
  const stops = usePeelStops(listRef, hanging.length)
  const shown = Math.min(peel, roots.length)
  const chosen = new Set(chosenIds(sheet, { layerId, alsoChosen }))
  const tabStopId = (hanging.find(({ id }) => id === layerId) ?? hanging.at(-1))?.id

  const items = (ids: readonly string[], depth: number, peeled: (index: number) => boolean): ReactNode =>
    ids.map((id, i) => {
      const layer = sheet.nodes[id]
      if (!layer) return null
      const common = {
        layer,
        chosen: chosen.has(id),
        leads: id === layerId,
        tabStop: id === tabStopId,
        peeled: peeled(i),
        found: isFound(layer, query),
      }
      if (hasContent(layer, 'wash')) return <WashPane key={id} {...common} />
      if (hasContent(layer, 'group') && !layer.content.folded)
        return (
          <GroupTray key={id} {...common} depth={depth}>
            {items(layer.content.children, depth + 1, () => common.peeled)}
          </GroupTray>
        )
      return <LayerCard key={id} {...common} />
    })

  return (
    <section
      className="rack"
      aria-label="Rack"
      data-small={hasSmallCards}
      onPointerDown={(e) => {
        downOnGround.current = isGround(e.target)
      }}
      onClick={(e) => {
        // A card that is pressed may scroll away beneath the pointer: that is no press on the ground.
        if (downOnGround.current && isGround(e.target)) setBench({ layerId: null })
      }}
    >
      <LayerCardStyles />
      <RackStyles />
      <div
        className="rack-scroll"
        ref={scrollRef}
        onScroll={measure}
        data-more-left={beyond.left}
        data-more-right={beyond.right}
      >
        <Peel stops={stops} shown={shown} count={roots.length} />
        <DndContext
          id="rack"
          sensors={sensors}
          collisionDetection={closestCenter}
          onDragEnd={(event) => {
            const { active, over } = event
            const id = String(active.id)
            if (Math.hypot(event.delta.x, event.delta.y) <= PRESSED_WITHIN) {
              chooseLayer(id, wayOfChoosing(event.activatorEvent as MouseEvent | TouchEvent))
              return
            }
            const side = over && sideOf(event)
            if (!over || !side) return
            const on = String(over.id)
            if (chosen.size > 1 && chosen.has(id)) {
              dropChosen(on, side)
              return
            }
            const to = dropPlace(sheet, id, on, side)
            if (to) moveLayer(id, to)
          }}
        >
          <SortableContext items={ids} strategy={noShift}>
            <div className="cards">
              {roots.length > 0 && (
                <div
                  className="card-list"
                  ref={listRef}
                  role="listbox"
                  aria-label="Layers, back to front"
                  aria-orientation="horizontal"
                  aria-multiselectable
                >
                  {items(roots, 0, (i) => i >= shown)}
                </div>
              )}
              <button
                className="card-add"
                aria-label="Add a layer"
                aria-haspopup="menu"
                title="Add a layer"
                data-testid="add-layer"
                onClick={(e) => setMenu(e.currentTarget)}
              >
                +
              </button>
              {roots.length === 0 && (
                <span className="quiet" style={{ alignSelf: 'center' }}>
                  Layers hang here, back at the left.
                </span>
              )}
            </div>
          </SortableContext>
        </DndContext>
      </div>
      <AddLayerMenu
        project={project}
        anchor={menu}
        onClose={() => setMenu(null)}
        onAddPicture={onAddPicture}
        onPress={onPress}
      />
    </section>
  )
}

/** Whether a press meets what lies between the cards. */
const isGround = (target: EventTarget): boolean =>
  target instanceof HTMLElement && target.matches('.rack, .rack-scroll, .cards, .card-list')

/** Cards stay where they are while one is dragged: they hang in trays of their own. */
const noShift = () => null

/**
 * Which part of what it is dropped on a card's middle lies over. A card takes the place of the one it is dropped on: before it
 * where it comes from the right, after it where it comes from the left; a quarter at each end is that end's own.
 */
function sideOf({ active, over }: DragEndEvent): DropSide {
  const dropped = active.rect.current.translated
  if (!dropped || !over) return 'after'
  const share = (dropped.left + dropped.width / 2 - over.rect.left) / over.rect.width
  const isGroup = document
    .querySelector(`[data-layer="${CSS.escape(String(over.id))}"]`)
    ?.matches('.tray-lip, .card[data-folded=true]')
  if (share <= 0.25) return 'before'
  if (share >= 0.75) return 'after'
  if (isGroup) return 'within'
  const initial = active.rect.current.initial
  return initial && initial.left > over.rect.left ? 'before' : 'after'
}

/** Whether cards hang beyond the left and right edge of what scrolls. */
function useBeyond(count: number) {
  const scrollRef = useRef<HTMLDivElement>(null)
  const [beyond, setBeyond] = useState({ left: false, right: false })
  const measure = useCallback(() => {
    const element = scrollRef.current
    if (!element) return
    const left = element.scrollLeft > 4
    const right = element.scrollLeft + element.clientWidth < element.scrollWidth - 4
    setBeyond((was) => (was.left === left && was.right === right ? was : { left, right }))
  }, [])
  useEffect(() => {
    const element = scrollRef.current
    if (!element) return
    const observer = new ResizeObserver(measure)
    observer.observe(element)
    return () => observer.disconnect()
  }, [measure])
  useEffect(measure, [measure, count])
  return { scrollRef, beyond, measure }
}

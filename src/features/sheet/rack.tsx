'use client'

import { activePasses, activeSheet } from '@/data/active-shot'
import { useCallback, useEffect, useRef, useState } from 'react'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import ListSubheader from '@mui/material/ListSubheader'
import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core'
import { horizontalListSortingStrategy, SortableContext } from '@dnd-kit/sortable'
import { passKind } from '@/core/passes/registry'
import type { Project } from '@/data/project-schema'
import { setBench, useViewStore } from '@/state/view-store'
import { addFillLayer, addPassLayer, moveLayer } from './layer-actions'
import { LayerCard } from './layer-card'
import { RackStyles } from './rack-styles'
import { LayerCardStyles } from './layer-card-styles'

/** A card's width with the gap behind it, as in layer-card-styles.tsx and rack-styles.tsx. Pixels. */
const CARD_PITCH = 116
const CARD_GAP = 10

interface RackProps {
  readonly project: Project
  readonly proofSize: { readonly width: number; readonly height: number }
  readonly onAddPicture: () => void
}

/** The strip in which the sheet's layers hang, back at the left, front at the right, with the peel along its top. */
export function Rack({ project, proofSize, onAddPicture }: RackProps) {
  const { layers } = activeSheet(project)
  const layerId = useViewStore((s) => s.layerId)
  const peel = useViewStore((s) => s.peel)
  const lineRef = useRef<HTMLDivElement>(null)
  const scrollRef = useRef<HTMLDivElement>(null)
  /** Whether cards hang beyond the left and right edge. */
  const [beyond, setBeyond] = useState({ left: false, right: false })
  const [menu, setMenu] = useState<HTMLElement | null>(null)
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }))
  const shown = Math.min(peel, layers.length)
  /** Where the handle stands: in the gap behind the last card that is shown. */
  const handleAt = shown * CARD_PITCH - CARD_GAP / 2
  const setPeel = (count: number) =>
    setBench({ peel: count >= layers.length ? Infinity : Math.max(0, count) })
  const drag = (clientX: number) => {
    const box = lineRef.current?.getBoundingClientRect()
    if (box) setPeel(Math.round((clientX - box.left) / CARD_PITCH))
  }
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
  useEffect(measure, [measure, layers.length])
  const add = (action: () => void) => {
    setMenu(null)
    action()
  }
  return (
    <section
      className="rack"
      aria-label="Rack"
      onClick={(e) => {
        if (e.target instanceof HTMLElement && e.target.matches('.rack, .rack-scroll, .cards, .card-list'))
          setBench({ layerId: null })
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
        <div
          className="peel"
          hidden={layers.length === 0}
          ref={lineRef}
          style={{ width: Math.max(1, layers.length) * CARD_PITCH }}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId)
            drag(e.clientX)
          }}
          onPointerMove={(e) => e.buttons > 0 && drag(e.clientX)}
        >
          <div className="peel-rest" />
          <div className="peel-line" style={{ width: Math.max(0, handleAt) }} />
          <button
            className="peel-handle"
            style={{ left: Math.max(0, handleAt) }}
            role="slider"
            aria-label="Peel"
            aria-valuemin={0}
            aria-valuemax={layers.length}
            aria-valuenow={shown}
            aria-valuetext={`${layers.length - shown} of ${layers.length} lifted`}
            onKeyDown={(e) => {
              const step = e.key === 'ArrowLeft' ? -1 : e.key === 'ArrowRight' ? 1 : 0
              if (step === 0) return
              e.preventDefault()
              e.stopPropagation()
              setPeel(shown + step)
            }}
          />
          {shown < layers.length && (
            <span className="peel-note" style={{ left: Math.max(0, handleAt) + 16 }}>
              Peeled: {layers.length - shown} of {layers.length} lifted
            </span>
          )}
        </div>
        <DndContext
          id="rack"
          sensors={sensors}
          collisionDetection={closestCenter}
          onDragEnd={({ active, over }) => {
            if (over)
              moveLayer(
                String(active.id),
                layers.findIndex((l) => l.id === over.id),
              )
          }}
        >
          <SortableContext items={layers.map((l) => l.id)} strategy={horizontalListSortingStrategy}>
            <div className="cards">
              {layers.length > 0 && (
                <div
                  className="card-list"
                  role="listbox"
                  aria-label="Layers, back to front"
                  aria-orientation="horizontal"
                >
                  {layers.map((layer, i) => (
                    <LayerCard
                      key={layer.id}
                      project={project}
                      layer={layer}
                      chosen={layer.id === layerId}
                      tabStop={
                        layer.id === (layers.find((l) => l.id === layerId) ?? layers[layers.length - 1]).id
                      }
                      peeled={i >= shown}
                      proofSize={proofSize}
                    />
                  ))}
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
              {layers.length === 0 && (
                <span className="quiet" style={{ alignSelf: 'center' }}>
                  Layers hang here, back at the left.
                </span>
              )}
            </div>
          </SortableContext>
        </DndContext>
      </div>
      <Menu
        open={menu !== null}
        anchorEl={menu}
        // Within the page's landmarks, where those who hear the page find it.
        container={() => menu?.closest('main') ?? null}
        onClose={() => setMenu(null)}
        anchorOrigin={{ vertical: 'top', horizontal: 'center' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'center' }}
      >
        <ListSubheader role="presentation" sx={{ lineHeight: '28px' }}>
          From a pass
        </ListSubheader>
        {activePasses(project).map((pass) => (
          <MenuItem
            dense
            key={pass.id}
            disabled={!pass.rendered}
            onClick={() => add(() => addPassLayer(pass))}
          >
            {passKind(pass.kind).label}
            {!pass.rendered && ', not rendered'}
          </MenuItem>
        ))}
        <ListSubheader role="presentation" sx={{ lineHeight: '28px' }}>
          Other
        </ListSubheader>
        <MenuItem dense onClick={() => add(addFillLayer)}>
          Fill
        </MenuItem>
        <MenuItem dense onClick={() => add(onAddPicture)}>
          Picture from a file
        </MenuItem>
      </Menu>
    </section>
  )
}

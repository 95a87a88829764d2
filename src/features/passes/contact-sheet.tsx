'use client'

import { inkOn } from '@/ui/ink-on'
import { activePasses, activeShot } from '@/data/active-shot'
import { useEffect, useRef, useState } from 'react'
import type { Tile } from '@/core/passes/tile'
import { passKind } from '@/core/passes/registry'
import type { Project, ProjectPass } from '@/data/project-schema'
import { useActions } from '@/state/actions'
import { passStatus } from '@/state/pass-status'
import { useRenderQueue, type RenderJob } from '@/state/render-queue'
import { setBench, useViewStore } from '@/state/view-store'
import { contactLayout, movedView, viewedPart, WHOLE, zoomedView, type LinkedView } from './linked-view'
import { usePassCanvas } from './pass-canvas'
import { lensPart, PassLens } from './pass-lens'
import { useSpotName } from './use-spot-name'
import { ContactSheetStyles } from './contact-sheet-styles'
import { PassLensStyles } from './pass-lens-styles'

/** How a pass's state reads in a few words. */
export function statusText(project: Project, pass: ProjectPass): string {
  const status = passStatus(project, pass)
  if (status.state === 'empty') return 'not rendered'
  if (status.state === 'out of register') return `out of register: ${status.reasons[0]}`
  const { quality = 'draft', seconds = 0, samples = 0, facts = {} } = pass.rendered ?? {}
  // Lines alone have no quality: every render finds the same.
  if (typeof facts.lines === 'number' && !passKind(pass.kind).isSampled)
    return `${facts.lines.toLocaleString('en')} lines, ${seconds.toFixed(1)} s`
  return `${quality}, ${seconds.toFixed(1)} s, ${samples} ${samples === 1 ? 'sample' : 'samples'}`
}

/** How a job of the queue reads in a word or two. */
const jobText = ({ state, done, total }: RenderJob): string =>
  state === 'rendering' && total > 0
    ? `rendering, ${Math.floor((100 * done) / total)} %`
    : state === 'waiting'
      ? 'in the queue'
      : state

interface ContactSheetProps {
  readonly project: Project
  readonly selected: ProjectPass
  readonly onOpen: () => void
  /** A region was drawn that is to be rendered first. */
  readonly onRegion: (rect: Tile) => void
}

/** All passes side by side, zoomed and panned together: the same spot in every pass. */
export function ContactSheet({ project, selected, onOpen, onRegion }: ContactSheetProps) {
  const shot = activeShot(project)
  const { frame } = shot
  const passes = activePasses(project)
  const ground = useViewStore((s) => s.ground)
  const boxRef = useRef<HTMLDivElement>(null)
  const [box, setBox] = useState({ width: 900, height: 700 })
  const [view, setView] = useState<LinkedView>(WHOLE)
  const drag = useRef<{ x: number; y: number } | null>(null)
  /** What the pointer does: move the pictures, draw a region to be rendered first, or hold the lens. */
  const [tool, setTool] = useState<'move' | 'region' | 'lens'>('move')
  const [region, setRegion] = useState<Region | null>(null)
  const [spot, setSpot] = useState<{ x: number; y: number } | null>(null)
  const { name: spotName, pointAt } = useSpotName(project, shot)
  useEffect(() => {
    const element = boxRef.current
    if (!element) return
    const observer = new ResizeObserver(() =>
      setBox({ width: element.clientWidth, height: element.clientHeight }),
    )
    observer.observe(element)
    return () => observer.disconnect()
  }, [])
  useEffect(() => {
    const element = boxRef.current
    if (!element) return
    const onWheel = (event: WheelEvent) => {
      const picture = event.target instanceof Element ? event.target.closest('.contact-picture') : null
      if (!picture) return
      event.preventDefault()
      const at = picture.getBoundingClientRect()
      const [x, y] = [(event.clientX - at.left) / at.width, (event.clientY - at.top) / at.height]
      setView((v) => zoomedView(v, Math.exp(-event.deltaY * 0.0016), x, y))
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => element.removeEventListener('wheel', onWheel)
  }, [])
  const layout = contactLayout(passes.length, frame.width / frame.height, box.width, box.height)
  const pixelZoom = frame.width / layout.cellWidth
  useActions('Contact sheet', [
    {
      id: 'region',
      label: 'Draw a region to render first',
      keys: 'g',
      run: () => setTool((t) => (t === 'region' ? 'move' : 'region')),
    },
    { id: 'lens', label: 'Lens', keys: 'l', run: () => setTool((t) => (t === 'lens' ? 'move' : 'lens')) },
    { id: 'fit', label: 'Whole pictures', keys: '0', run: () => setView(WHOLE) },
    {
      id: 'full',
      label: 'Zoom all to 100 %',
      keys: '1',
      run: () => setView((v) => zoomedView(v, pixelZoom / v.zoom, 0.5, 0.5)),
    },
    { id: 'in', label: 'Zoom all in', keys: ']', run: () => setView((v) => zoomedView(v, 1.5, 0.5, 0.5)) },
    {
      id: 'out',
      label: 'Zoom all out',
      keys: '[',
      run: () => setView((v) => zoomedView(v, 1 / 1.5, 0.5, 0.5)),
    },
    ...(
      [
        ['left', 'ArrowLeft', -0.1, 0],
        ['right', 'ArrowRight', 0.1, 0],
        ['up', 'ArrowUp', 0, -0.1],
        ['down', 'ArrowDown', 0, 0.1],
      ] as const
    ).map(([name, key, x, y]) => ({
      id: `pan-${name}`,
      label: `Move all ${name}`,
      keys: `Shift+${key}`,
      run: () => setView((v) => movedView(v, x, y)),
    })),
  ])
  const grey = Math.round(ground * 255)
  const shown = viewedPart(view, frame.width, frame.height)
  /** Where the pointer is in a picture, in shares of it; null outside. */
  const placeIn = (event: React.PointerEvent<HTMLDivElement>) => {
    const picture = event.target instanceof Element ? event.target.closest('.contact-picture') : null
    if (!picture) return null
    const at = picture.getBoundingClientRect()
    return { x: (event.clientX - at.left) / at.width, y: (event.clientY - at.top) / at.height }
  }
  const endRegion = () => {
    if (tool !== 'region' || !region) return
    setRegion(null)
    setTool('move')
    const rect = regionTile(region, shown)
    if (rect) onRegion(rect)
  }
  /** Marks, in every picture, the spot the pointer is at in one. */
  const point = (event: React.PointerEvent<HTMLDivElement>) => {
    const picture = event.target instanceof Element ? event.target.closest('.contact-picture') : null
    const element = event.currentTarget
    element.dataset.pointing = String(picture !== null && drag.current === null && tool === 'move')
    const place = placeIn(event)
    setSpot(tool === 'lens' ? place : null)
    pointAt(
      place && {
        x: (shown.x + place.x * shown.width) / frame.width,
        y: (shown.y + place.y * shown.height) / frame.height,
      },
    )
    if (!picture) return
    if (tool === 'region') {
      if (place && event.buttons !== 0) setRegion((r) => r && { ...r, x1: place.x, y1: place.y })
      return
    }
    const at = picture.getBoundingClientRect()
    element.style.setProperty('--spot-x', `${(100 * (event.clientX - at.left)) / at.width}%`)
    element.style.setProperty('--spot-y', `${(100 * (event.clientY - at.top)) / at.height}%`)
    if (!drag.current || event.buttons === 0) return
    const [dx, dy] = [event.clientX - drag.current.x, event.clientY - drag.current.y]
    drag.current = { x: event.clientX, y: event.clientY }
    setView((v) => movedView(v, -dx / at.width, -dy / at.height))
  }
  return (
    <div
      ref={boxRef}
      className="contact"
      role="group"
      aria-label="Contact sheet"
      style={{
        background: `rgb(${grey} ${grey} ${Math.max(0, grey - 2)})`,
        gridTemplateColumns: `repeat(${layout.columns}, ${layout.cellWidth}px)`,
        touchAction: tool === 'region' || view.zoom > 1 ? 'none' : 'pan-y',
      }}
      data-tool={tool}
      onPointerDown={(e) => {
        const place = placeIn(e)
        if (tool === 'region' && place) setRegion({ x0: place.x, y0: place.y, x1: place.x, y1: place.y })
        drag.current = view.zoom > 1 ? { x: e.clientX, y: e.clientY } : null
      }}
      onPointerMove={point}
      // A picture may also come beneath a pointer at rest: a menu closed, the wall laid out anew.
      onPointerOver={point}
      onPointerUp={() => {
        drag.current = null
        endRegion()
      }}
      onPointerLeave={(e) => {
        drag.current = null
        setSpot(null)
        pointAt(null)
        e.currentTarget.dataset.pointing = 'false'
      }}
    >
      <ContactSheetStyles />
      <PassLensStyles />
      {passes.map((pass) => (
        <ContactCell
          key={pass.id}
          project={project}
          pass={pass}
          view={shown}
          region={region}
          spot={spot}
          frame={frame}
          width={layout.cellWidth}
          height={layout.cellHeight}
          chosen={pass === selected}
          onOpen={onOpen}
        />
      ))}
      <div className="contact-tools" role="toolbar" aria-label="Contact sheet">
        {TOOLS.map(({ name, label, keys }) => (
          <button
            key={name}
            className="chip"
            aria-pressed={tool === name}
            title={`${label} (${keys})`}
            onClick={() => setTool(tool === name ? 'move' : name)}
          >
            {label}
          </button>
        ))}
      </div>
      {(view.zoom > 1 || spotName) && (
        <div className="status" style={{ color: inkOn(ground) }}>
          {spotName && <b data-testid="spot-name">{spotName}</b>}
          {view.zoom > 1 && (
            <>
              <b>{Math.round((100 * view.zoom) / pixelZoom)} %</b>
              <span>all pictures, drag to move, 0 for the whole</span>
            </>
          )}
        </div>
      )}
    </div>
  )
}

/** A rectangle being drawn, in shares of the picture shown. */
interface Region {
  readonly x0: number
  readonly y0: number
  readonly x1: number
  readonly y1: number
}
/** Smallest side of a region, in shares: less is a slip of the hand. */
const SMALLEST_REGION = 0.01

/** A drawn region in whole pixels; null where it is too small to be meant. */
function regionTile({ x0, y0, x1, y1 }: Region, shown: Tile): Tile | null {
  const clamp = (v: number) => Math.min(1, Math.max(0, v))
  const [left, right] = [clamp(Math.min(x0, x1)), clamp(Math.max(x0, x1))]
  const [top, bottom] = [clamp(Math.min(y0, y1)), clamp(Math.max(y0, y1))]
  if (right - left < SMALLEST_REGION || bottom - top < SMALLEST_REGION) return null
  return {
    x: Math.floor(shown.x + left * shown.width),
    y: Math.floor(shown.y + top * shown.height),
    width: Math.max(1, Math.ceil((right - left) * shown.width)),
    height: Math.max(1, Math.ceil((bottom - top) * shown.height)),
  }
}

const TOOLS = [
  { name: 'region', label: 'Region first', keys: 'g' },
  { name: 'lens', label: 'Lens', keys: 'l' },
] as const

interface CellProps {
  readonly project: Project
  readonly pass: ProjectPass
  readonly view: Tile
  readonly region: Region | null
  readonly spot: { readonly x: number; readonly y: number } | null
  readonly frame: { readonly width: number; readonly height: number }
  readonly width: number
  readonly height: number
  readonly chosen: boolean
  readonly onOpen: () => void
}

function ContactCell({ project, pass, view, region, spot, frame, width, height, chosen, onOpen }: CellProps) {
  const dots = typeof devicePixelRatio === 'number' ? devicePixelRatio : 1
  const canvasWidth = Math.max(1, Math.round(width * dots))
  const canvasHeight = Math.max(1, Math.round(height * dots))
  const { canvasRef, drawn } = usePassCanvas(project, pass, view, canvasWidth, canvasHeight)
  const job = useRenderQueue((s) => s.jobs.find((j) => j.passIds.includes(pass.id)))
  const rendering = job?.state === 'rendering'
  const status = passStatus(project, pass)
  const { summary, lines } = passKind(pass.kind)
  // Until the new part is drawn, the old one stands in for it, moved and scaled.
  const shift = `translate(${(100 * (drawn.x - view.x)) / view.width}%, ${(100 * (drawn.y - view.y)) / view.height}%)`
  return (
    <button
      className="contact-cell"
      aria-pressed={chosen}
      data-state={status.state}
      data-testid={`pass-${pass.kind}`}
      onClick={() => setBench({ passId: pass.id })}
      onDoubleClick={onOpen}
    >
      <div className="contact-picture" data-lines={lines !== null} style={{ height }}>
        <canvas
          ref={canvasRef}
          width={canvasWidth}
          height={canvasHeight}
          aria-hidden="true"
          style={{
            transformOrigin: '0 0',
            transform: `${shift} scale(${drawn.width / view.width})`,
            imageRendering: view.width * 3 < width ? 'pixelated' : 'auto',
          }}
        />
        {!pass.rendered && !rendering && <div className="blank">{summary}</div>}
        {region && (
          <div
            className="region"
            style={{
              left: `${100 * Math.min(region.x0, region.x1)}%`,
              top: `${100 * Math.min(region.y0, region.y1)}%`,
              width: `${100 * Math.abs(region.x1 - region.x0)}%`,
              height: `${100 * Math.abs(region.y1 - region.y0)}%`,
            }}
          />
        )}
        {spot && pass.rendered && (
          <PassLens
            project={project}
            pass={pass}
            part={lensPart(spot.x, spot.y, view, frame)}
            x01={spot.x}
            y01={spot.y}
          />
        )}
        {rendering && job.total > 0 && (
          <div className="contact-progress" style={{ width: `${(100 * job.done) / job.total}%` }} />
        )}
      </div>
      <div className="contact-label">
        <b>{pass.name}</b>
        <span>{job ? jobText(job) : statusText(project, pass)}</span>
      </div>
    </button>
  )
}

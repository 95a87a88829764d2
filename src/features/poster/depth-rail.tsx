'use client'

import { memo, useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import Link from 'next/link'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { activeShot, passesOf } from '@/data/active-shot'
import type { Project, ProjectSheet } from '@/data/project-schema'
import type { StandingPart } from '@/engine/sheet-requests'
import { askSheet } from '@/state/sheet-sync'
import { depthOf, shadowOf, standAt, throwShadow } from './poster-layers'
import { depthAtGap, gapOf, shownParts, standsInWords } from './standing-places'

interface DepthRailProps {
  readonly project: Project
  readonly page: ProjectSheet
  readonly layer: SheetNode | undefined
}

const SIDE = 104
/** What a part takes up of the rail, and what lies before the first. Screen pixels. */
const [PART_WIDTH, END_WIDTH] = [64, 46]

/** How near a layer stands: the parts of the shot from far to near, and the layer as a peg among them. */
export function DepthRail({ project, page, layer }: DepthRailProps) {
  const passes = passesOf(project, page.shotId)
  const hasPasses = (['id', 'depth'] as const).every((kind) =>
    passes.some((p) => p.kind === kind && p.rendered),
  )
  const parts = useStandingParts(project, page.shotId, hasPasses)
  const wayRef = useRef<HTMLDivElement>(null)
  const shown = useMemo(() => (parts ? shownParts(parts) : []), [parts])
  const depth = layer ? depthOf(layer) : null
  const gap = gapOf(shown, depth)
  const stand = (next: number) =>
    layer && standAt(layer.id, depthAtGap(shown, Math.min(shown.length, Math.max(0, next))))
  const drag = (e: PointerEvent<HTMLElement>) => {
    const box = wayRef.current?.getBoundingClientRect()
    if (!box || !e.currentTarget.hasPointerCapture(e.pointerId)) return
    const x = e.clientX - box.left - END_WIDTH
    stand(Math.round(x / PART_WIDTH))
  }
  const key = (e: KeyboardEvent) => {
    const next = {
      ArrowLeft: gap - 1,
      ArrowDown: gap - 1,
      ArrowRight: gap + 1,
      ArrowUp: gap + 1,
      Home: 0,
      End: shown.length,
    }[e.key]
    if (next === undefined) return
    e.preventDefault()
    e.stopPropagation()
    stand(next)
  }
  const words = standsInWords(shown, gap)
  const shadow = layer && shadowOf(page, layer.id)
  return (
    <section className="depth-rail" aria-label="Depth">
      <div className="head">
        <b>{layer ? `How near does ${layer.name} stand?` : 'How near does it stand?'}</b>
        <span className="quiet">
          {!hasPasses ? (
            <>
              Parts are told apart by the ID and the depth pass of {activeShot(project).name}:{' '}
              <Link href={`/project/${project.id}/passes`}>render both</Link>.
            </>
          ) : layer ? (
            'drag it between the parts; what is nearer covers it'
          ) : (
            'choose a layer on the page'
          )}
        </span>
        <span className="spacer" style={{ flex: 1 }} />
        {layer?.content.kind === 'type' && hasPasses && (
          <button
            className="link"
            aria-pressed={shadow !== undefined}
            title="It throws its shadow on the surfaces of the shot, and keeps light from what is close behind it"
            data-testid="throw-shadow"
            onClick={() => throwShadow(layer, shadow === undefined)}
          >
            {shadow ? 'Throws its shadow' : 'Throw its shadow'}
          </button>
        )}
        {layer && hasPasses && <span data-testid="stands">{words}</span>}
      </div>
      {hasPasses && (
        <div className="way" role="group" aria-label="Parts from far to near" tabIndex={0}>
          <div
            className="parts"
            ref={wayRef}
            onPointerDown={(e) => {
              if (!layer || e.button !== 0) return
              e.currentTarget.setPointerCapture(e.pointerId)
              drag(e)
            }}
            onPointerMove={drag}
          >
            <span className="end" aria-hidden="true" />
            {shown.map((part, i) => (
              <div key={part.part} className="part" data-behind={layer ? i < gap : true} title={part.name}>
                <Silhouette part={part} />
                <span>{part.name}</span>
              </div>
            ))}
            <span className="end" aria-hidden="true" />
            {layer && (
              <div
                role="slider"
                tabIndex={0}
                className="peg"
                aria-label={`How near ${layer.name} stands`}
                aria-valuemin={0}
                aria-valuemax={shown.length}
                aria-valuenow={gap}
                aria-valuetext={words}
                data-testid="depth-peg"
                style={{ left: END_WIDTH + gap * PART_WIDTH }}
                onKeyDown={key}
              >
                <b aria-hidden="true">{layer.name}</b>
              </div>
            )}
          </div>
        </div>
      )}
    </section>
  )
}

/** The parts of a shot by depth; null until they are known. */
function useStandingParts(
  project: Project,
  shotId: string,
  hasPasses: boolean,
): readonly StandingPart[] | null {
  const [found, setFound] = useState<readonly StandingPart[] | null>(null)
  const rendered = passesOf(project, shotId)
    .filter(({ kind }) => kind === 'id' || kind === 'depth')
    .map((pass) => pass.rendered?.resultId ?? '')
    .join()
  const latest = useRef(project)
  useEffect(() => {
    latest.current = project
  })
  useEffect(() => {
    if (!hasPasses) return
    let isOver = false
    askSheet(latest.current, (worker) => worker.partDepths(shotId, SIDE))
      .then((parts) => {
        if (!isOver) setFound(parts)
      })
      .catch(() => undefined)
    return () => {
      isOver = true
    }
  }, [shotId, rendered, hasPasses])
  return hasPasses ? found : null
}

/** A part's own form: drawn once, what lies behind is paler. */
const Silhouette = memo(function Silhouette({ part }: { readonly part: StandingPart }) {
  const ref = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    const context = ref.current?.getContext('2d')
    if (!context) return
    const image = new ImageData(SIDE, SIDE)
    part.silhouette.forEach((alpha, i) => image.data.set([0x5c, 0x7e, 0x8a, alpha], 4 * i))
    context.putImageData(image, 0, 0)
  }, [part])
  return <canvas ref={ref} width={SIDE} height={SIDE} aria-hidden="true" />
})

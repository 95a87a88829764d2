'use client'

import { memo, useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import type { ContentOf } from '@/core/sheet/contents/registry'
import { MOST_WAY_POINTS } from '@/core/sheet/contents/type'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import type { Reads } from '@/core/type/text-contrast'
import { catalogueFont } from '@/core/type/font-catalogue'
import type { Project } from '@/data/project-schema'
import type { SeenType } from '@/engine/sheet-requests'
import { askSheet } from '@/state/sheet-sync'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'
import { ContentSection } from '../sheet/content-section'
import { changeContent } from '../sheet/layer-actions'
import { faceName } from './font-styles'
import { FontField } from './font-field'
import { letterPlaces } from './letter-places'
import { layOnSurface } from './lay-on-surface'
import { fillWithSheet, takeApart } from './poster-layers'
import { TypeStyleRow } from './type-style-row'

interface TypeSectionProps {
  readonly project: Project
  readonly layer: SheetNode
  readonly content: ContentOf<'type'>
  readonly set: SeenType | null
  readonly onEdit: () => void
}

/** A block of type beside its style: its font, its text, its pairs, and how it reads. */
export function TypeSection({ project, layer, content, set, onEdit }: TypeSectionProps) {
  return (
    <>
      <TypeStyleRow project={project} layer={layer} content={content} />
      <FontField projectId={project.id} fonts={project.fonts} layerId={layer.id} content={content} />
      <ContentSection layerId={layer.id} content={content} />
      <section className="section">
        <div className="section-head">
          <span>Text</span>
          <span>
            <button className="link" onClick={onEdit} data-testid="edit-type">
              On the page
            </button>
            <button
              className="link"
              disabled={!set || content.warp !== 'none' || content.way !== undefined}
              title="Each letter becomes a block of its own, which can stand at a depth of its own"
              onClick={() => set && takeApart(layer, letterPlaces(content, set))}
            >
              Take apart
            </button>
          </span>
        </div>
        {set && set.missing.length > 0 && (
          <p className="problem" role="status">
            The font has no {set.missing.slice(0, 8).join(' ')}
          </p>
        )}
        <ReadsRow project={project} layer={layer} />
      </section>
      <Placing project={project} layer={layer} content={content} />
      <Pairs layerId={layer.id} content={content} pairs={set?.pairs ?? NO_PAIRS} />
    </>
  )
}

interface PlacingProps {
  readonly project: Project
  readonly layer: SheetNode
  readonly content: ContentOf<'type'>
}

/** How a block lies: in its frame, between four corners, along a way, or on a surface of the shot. */
function Placing({ project, layer, content }: PlacingProps) {
  const [x, y, width, height] = content.box
  const lies = content.plane ? 'surface' : content.corners ? 'corners' : content.way ? 'way' : 'frame'
  const lay = (how: string) =>
    changeContent(layer.id, 'type', 'how it lies', (own) => {
      delete own.corners
      delete own.way
      delete own.plane
      if (how === 'corners')
        own.corners = [
          [x, y],
          [x + width, y],
          [x + width, y + height],
          [x, y + height],
        ]
      if (how === 'way') {
        const middle = y + height / 2
        own.way = [
          [x, middle],
          [x + width / 2, middle - height / 4],
          [x + width, middle],
        ]
      }
    })
  return (
    <section className="section">
      <div className="section-head">
        <span>Lies</span>
        <span>
          {content.way && (
            <>
              <button
                className="link"
                disabled={content.way.length >= MOST_WAY_POINTS}
                onClick={() =>
                  changeContent(layer.id, 'type', 'add a place to the way', (own) => {
                    const last = own.way?.at(-1)
                    const before = own.way?.at(-2)
                    if (!last || !before) return
                    own.way?.push([2 * last[0] - before[0], 2 * last[1] - before[1]])
                  })
                }
              >
                Longer
              </button>
              <button
                className="link"
                disabled={content.way.length <= 2}
                onClick={() =>
                  changeContent(layer.id, 'type', 'remove a place of the way', (own) => void own.way?.pop())
                }
              >
                Shorter
              </button>
            </>
          )}
          <button className="link" onClick={() => fillWithSheet(layer)}>
            Fill with a sheet
          </button>
        </span>
      </div>
      <SelectRow
        id="type-lies"
        label="On the page"
        value={lies}
        onChange={(picked) => (picked === 'surface' ? layOnSurface(project, layer) : lay(picked))}
      >
        <option value="frame">In its frame</option>
        <option value="corners">Between four corners</option>
        <option value="way">Along a way</option>
        <option value="surface">On a surface</option>
      </SelectRow>
      {content.plane && (
        <>
          <NumberField
            label="Turned"
            value={content.plane.turnDeg}
            min={-180}
            max={180}
            step={1}
            unit="°"
            defaultValue={0}
            onChange={(deg) =>
              changeContent(
                layer.id,
                'type',
                'turn on a surface',
                (own) => void (own.plane && (own.plane.turnDeg = deg)),
                'turn on plane',
              )
            }
          />
          <button className="link" style={{ paddingLeft: 0 }} onClick={() => layOnSurface(project, layer)}>
            Lay it on another surface
          </button>
        </>
      )}
    </section>
  )
}

const NO_PAIRS: readonly string[] = []

/** Least ratios of WCAG 2.2 for large text, and for small. */
const [LARGE, SMALL] = [3, 4.5]

/** How well the block stands out from what lies under it. */
function ReadsRow({ project, layer }: { readonly project: Project; readonly layer: SheetNode }) {
  const [reads, setReads] = useState<Reads | null>(null)
  useEffect(() => {
    let isOver = false
    // Told when the hand rests.
    const timer = setTimeout(() => {
      askSheet(project, (worker) => worker.reads(layer.id))
        .then((found) => {
          if (!isOver) setReads(found)
        })
        .catch(() => undefined)
    }, 400)
    return () => {
      isOver = true
      clearTimeout(timer)
    }
  }, [project, layer.id])
  if (!reads) return null
  const { ratio, worstRatio, lightness } = reads
  const verdict =
    worstRatio >= SMALL
      ? 'good'
      : ratio >= LARGE
        ? worstRatio >= LARGE
          ? 'good where it is large'
          : 'weak in places'
        : 'hard to read'
  return (
    <div className="row" style={{ gridTemplateColumns: '92px 1fr' }} data-testid="reads">
      <span className="label">Reads</span>
      <span
        className={ratio < LARGE ? 'pill attention' : undefined}
        style={{ textAlign: 'right' }}
        title={`WCAG contrast ratio ${ratio.toFixed(1)} in the middle, ${worstRatio.toFixed(1)} in the tenth that reads worst; APCA Lc ${lightness.toFixed(0)}`}
      >
        <b>{ratio.toFixed(1)} : 1</b>, Lc {Math.abs(lightness).toFixed(0)}, {verdict}
      </span>
    </div>
  )
}

interface PairsProps {
  readonly layerId: string
  readonly content: ContentOf<'type'>
  readonly pairs: readonly string[]
}

/** The most pairs that are shown at once: a text of many lines has hundreds. */
const MOST_PAIRS = 24
const MOST_BY = 1000
const LEAST_BY = -1000

/** Distances of pairs of letters, set by hand: each a tile that is dragged sideways. */
const Pairs = memo(function Pairs({ layerId, content, pairs }: PairsProps) {
  const known = new Map(content.pairs.map((own) => [own.pair, own.by]))
  const shown = [...new Set([...known.keys(), ...pairs])]
    .filter((pair) => pairs.includes(pair))
    .slice(0, MOST_PAIRS)
  const set = (pair: string, by: number) =>
    changeContent(
      layerId,
      'type',
      `distance of ${pair}`,
      (type) => {
        const next = Math.round(Math.min(MOST_BY, Math.max(LEAST_BY, by)))
        type.pairs = type.pairs.filter((own) => own.pair !== pair)
        if (next !== 0) type.pairs.push({ pair, by: next })
      },
      `pair ${pair}`,
    )
  if (shown.length === 0) return null
  return (
    <section className="section">
      <div className="section-head">
        <span>Pairs by hand</span>
        <span className="quiet">‰ of an em</span>
      </div>
      <div className="pair-tiles">
        {shown.map((pair) => (
          <PairTile
            key={pair}
            pair={pair}
            by={known.get(pair) ?? 0}
            face={catalogueFont(content.fontId) ? faceName(content.fontId) : undefined}
            onChange={(by) => set(pair, by)}
          />
        ))}
      </div>
    </section>
  )
})

interface PairTileProps {
  readonly pair: string
  readonly by: number
  readonly face: string | undefined
  readonly onChange: (by: number) => void
}

function PairTile({ pair, by, face, onChange }: PairTileProps) {
  const taken = useRef<{ readonly x: number; readonly by: number } | null>(null)
  const key = (e: KeyboardEvent) => {
    const step = e.shiftKey ? 10 : 1
    const next = {
      ArrowLeft: by - step,
      ArrowDown: by - step,
      ArrowRight: by + step,
      ArrowUp: by + step,
      Home: 0,
    }[e.key]
    if (next === undefined) return
    e.preventDefault()
    e.stopPropagation()
    onChange(next)
  }
  const drag = (e: PointerEvent<HTMLElement>) => {
    if (taken.current && e.currentTarget.hasPointerCapture(e.pointerId))
      onChange(taken.current.by + Math.round((e.clientX - taken.current.x) / 2))
  }
  return (
    <div
      role="slider"
      tabIndex={0}
      className="pair-tile"
      data-set={by !== 0}
      aria-label={`Distance of ${pair}`}
      aria-valuemin={LEAST_BY}
      aria-valuemax={MOST_BY}
      aria-valuenow={by}
      title="Drag sideways, or arrow keys; double-click for none"
      onKeyDown={key}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId)
        taken.current = { x: e.clientX, by }
      }}
      onPointerMove={drag}
      onPointerUp={() => (taken.current = null)}
      onDoubleClick={() => onChange(0)}
    >
      <span style={{ fontFamily: face && `"${face}"`, fontSize: 20 }}>{pair}</span>
      <small>{by > 0 ? `+${by}` : by === 0 ? '0' : `−${-by}`}</small>
    </div>
  )
}

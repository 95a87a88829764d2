'use client'

import type { ReactNode } from 'react'
import type { ContentOf } from '@/core/sheet/contents/registry'
import { STAND_KINDS, STANDS, type StandKind } from '@/core/mockup/stands'
import { changeContent } from '../sheet/layer-actions'

interface StandStripProps {
  readonly layerId: string
  readonly name: string
  readonly content: ContentOf<'mockup'>
}

const paper = { fill: 'var(--raised)', stroke: 'var(--ink-2)', strokeWidth: 1.4 }
const ink = { fill: 'none', stroke: 'var(--ink-2)', strokeWidth: 1.4 }
const mark = { fill: 'var(--clay)', stroke: 'none' }

/** How each stand looks, in a few lines. */
const DRAWINGS: Readonly<Record<StandKind, ReactNode>> = {
  pinned: (
    <>
      <path d="M10 6 L34 5 L34 38 Q28 41 22 39 T10 39 Z" {...paper} />
      <circle cx="13" cy="9" r="2.4" {...mark} />
      <circle cx="31" cy="8" r="2.4" {...mark} />
    </>
  ),
  taped: (
    <>
      <rect x="11" y="6" width="22" height="33" {...paper} />
      <path d="M6 10 L14 2 L17 5 L9 13 Z M38 10 L30 2 L27 5 L35 13 Z M6 35 L14 43 L17 40 L9 32 Z" {...mark} />
    </>
  ),
  pasted: (
    <>
      <path d="M2 12 H42 M2 24 H42 M2 36 H42 M14 12 V24 M30 24 V36 M30 0 V12" {...ink} strokeOpacity={0.4} />
      <rect x="11" y="5" width="22" height="33" {...paper} />
    </>
  ),
  clips: (
    <>
      <path d="M10 8 H34 V38 Q22 43 10 38 Z" {...paper} />
      <path d="M12 3 H18 V10 H12 Z M26 3 H32 V10 H26 Z" {...mark} />
    </>
  ),
  framed: (
    <>
      <rect x="7" y="3" width="30" height="38" {...ink} strokeWidth={3} />
      <rect x="14" y="10" width="16" height="24" {...paper} />
    </>
  ),
  window: (
    <>
      <path d="M4 4 H40 V38 H4 Z M2 42 H42" {...ink} strokeWidth={2.4} />
      <rect x="15" y="13" width="14" height="20" {...paper} />
      <path d="M18 4 V13 M26 4 V13" {...ink} />
      <path d="M30 34 L38 26" {...ink} strokeOpacity={0.5} />
    </>
  ),
  lying: <path d="M16 9 L42 14 L29 36 L2 30 Q10 22 16 9 Z" {...paper} />,
}

const SHORT: Readonly<Record<StandKind, string>> = {
  pinned: 'Pinned',
  taped: 'Taped',
  pasted: 'Pasted',
  clips: 'Clips',
  framed: 'Framed',
  window: 'Shop window',
  lying: 'Lying',
}

/** On what a page is shown, as small pictures. */
export function StandStrip({ layerId, name, content }: StandStripProps) {
  return (
    <section className="stand-strip" aria-label="How it is shown">
      <div className="head">
        <b>How is {name} shown?</b>
        <span className="quiet">drag the picture to look from elsewhere, with Shift to turn the lights</span>
      </div>
      <div className="stands" role="group" aria-label="Shown">
        {STAND_KINDS.map((kind) => (
          <button
            key={kind}
            className="stand"
            aria-pressed={content.stand === kind}
            title={STANDS[kind].label}
            onClick={() =>
              changeContent(layerId, 'mockup', `show it ${STANDS[kind].label.toLowerCase()}`, (own) =>
                changeStand(own, kind),
              )
            }
          >
            <svg viewBox="0 0 44 44" aria-hidden="true">
              {DRAWINGS[kind]}
            </svg>
            {SHORT[kind]}
          </button>
        ))}
      </div>
    </section>
  )
}

/** From a wall to a table one looks down, and back again. */
function changeStand(own: ContentOf<'mockup'>, kind: StandKind): void {
  const wasLying = own.stand === 'lying'
  own.stand = kind
  if (kind === 'lying' && !wasLying) {
    own.elevationDeg = 52
    own.azimuthDeg = -20
    own.wall = 'boards'
    own.wallColour = '#9a7a58'
  } else if (kind !== 'lying' && wasLying) {
    own.elevationDeg = 5
    own.azimuthDeg = -14
    own.wall = 'plaster'
    own.wallColour = '#cfc4b2'
  }
}

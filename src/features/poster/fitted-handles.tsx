'use client'

import { fittedPatch } from '@/core/mockup/fitted-patch'
import { MESH_SIDE } from '@/core/sheet/contents/fitted'
import type { ContentOf } from '@/core/sheet/contents/registry'
import { Handle, HandleBox } from '@/ui/sheet-handles'
import { BOX_CORNERS, CornerHandles, withinReach } from '../sheet/corner-handles'
import { changeContent } from '../sheet/layer-actions'

interface FittedHandlesProps {
  readonly layerId: string
  readonly content: ContentOf<'fitted'>
  readonly sheet: { readonly width: number; readonly height: number }
}

/** Pieces that a line of the mesh is drawn in. */
const PIECES = 16

/** Where a page lies in a picture: its corners, and the places of its mesh where it is bent. */
export function FittedHandles({ layerId, content, sheet }: FittedHandlesProps) {
  const { corners, bends } = content
  const moveCorner = (i: number, to: [number, number]) =>
    changeContent(layerId, 'fitted', 'move a corner', (own) => void (own.corners[i] = to), `corner ${i}`)
  if (bends.length === 0)
    return <CornerHandles label="Page in a picture" corners={corners} sheet={sheet} onCorner={moveCorner} />
  const patch = fittedPatch(corners, bends)
  if (!patch) return null
  const out = new Float64Array(2)
  const at = (u: number, v: number): [number, number] => {
    patch.place(u, v, out)
    return [out[0], out[1]]
  }
  const flat = fittedPatch(corners, [])
  const net = bends.map(([dx, dy], k): [number, number] => {
    flat?.place((k % MESH_SIDE) / (MESH_SIDE - 1), Math.floor(k / MESH_SIDE) / (MESH_SIDE - 1), out)
    return [out[0] + dx, out[1] + dy]
  })
  const way = (point: (t: number) => [number, number]) =>
    Array.from({ length: PIECES + 1 }, (_, i) => point(i / PIECES))
      .map(([x, y]) => `${x * sheet.width},${y * sheet.height}`)
      .join(' ')
  const thirds = [0, 1 / 3, 2 / 3, 1]
  const lines = thirds.flatMap((t) => [way((s) => at(s, t)), way((s) => at(t, s))])
  return (
    <HandleBox
      {...sheet}
      label="Bent page in a picture"
      lines={['line-under', 'line-over'].map((name) => (
        <g key={name}>
          {lines.map((points, i) => (
            <polyline key={i} className={name} points={points} fill="none" />
          ))}
        </g>
      ))}
    >
      {net.map((place, k) => {
        const [column, row] = [k % MESH_SIDE, Math.floor(k / MESH_SIDE)]
        const corner = [0, 3, 15, 12].indexOf(k)
        return (
          <Handle
            key={k}
            label={
              corner >= 0
                ? BOX_CORNERS[corner].name
                : `Place ${column + 1} across, ${row + 1} down of the mesh`
            }
            place={place}
            {...sheet}
            shape={corner >= 0 ? 'square' : 'round'}
            onMove={(to) => {
              const [x, y] = withinReach(to)
              if (corner >= 0) {
                moveCorner(corner, [x - bends[k][0], y - bends[k][1]])
                return
              }
              changeContent(
                layerId,
                'fitted',
                'bend it',
                (own) => {
                  const [bx, by] = own.bends[k]
                  own.bends[k] = [limited(bx + x - place[0]), limited(by + y - place[1])]
                },
                `bend ${k}`,
              )
            }}
          />
        )
      })}
    </HandleBox>
  )
}

const limited = (v: number): number => Math.min(4, Math.max(-4, v))

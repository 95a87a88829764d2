import { blendDefinitions } from '@/core/sheet/blend-modes'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { layerOfTrack } from '@/core/turn/keyable'
import type { Reveal, RevealKind, Turn } from '@/core/turn/turn-schema'

export const revealLabels: Readonly<Record<RevealKind, string>> = {
  fade: 'Fade',
  sweep: 'Slanted sweep',
  iris: 'Iris',
  depth: 'Through depth',
  height: 'From the foot up',
  parts: 'Part by part',
  drawn: 'Drawn along its lines',
}

const inWords = ({ kind, angleDeg }: Reveal): string => {
  switch (kind) {
    case 'sweep':
      return `sweep, ${Math.round(angleDeg)}°`
    case 'drawn':
      return 'draws itself'
    case 'parts':
      return 'part by part'
    case 'depth':
      return 'through depth'
    case 'height':
      return 'from the foot up'
    default:
      return kind
  }
}

/** What happens to a layer, or how it lies where nothing does. */
export function revealInWords(node: SheetNode, { reveals, tracks }: Turn): string {
  const own = reveals.filter(({ layerId }) => layerId === node.id)
  const keyed = tracks.filter((track) => layerOfTrack(track) === node.id).length
  if (own.length > 0) return keyed > 0 ? `${inWords(own[0])}, keyed` : inWords(own[0])
  if (keyed > 0) return 'keyed'
  return node.visible ? blendDefinitions[node.mode].label.toLowerCase() : 'hidden'
}

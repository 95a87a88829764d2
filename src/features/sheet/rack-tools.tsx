'use client'

import { useEffect } from 'react'
import { layersOf } from '@/core/sheet/sheet-tree'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import type { ProjectSheet } from '@/data/project-schema'
import { setBench, useViewStore } from '@/state/view-store'
import { chooseLayer } from './chosen-layers'
import { revealLayer } from './layer-actions'

/** Where the size of the cards is kept over a reload. */
const KEY = 'relief.small-cards'

export function setSmallCards(hasSmallCards: boolean): void {
  setBench({ hasSmallCards })
  try {
    localStorage.setItem(KEY, hasSmallCards ? '1' : '0')
  } catch {
    // A browser that keeps nothing shows large cards next time.
  }
}

/** Whether a layer's name holds what is looked for; all do while nothing is. */
export const isFound = ({ name }: SheetNode, query: string): boolean =>
  name.toLowerCase().includes(query.trim().toLowerCase())

/** Puts the focus where layers are looked for. */
export const beginFind = (): void => document.getElementById('find-layer')?.focus()

/** Looks for layers by name, and says how large the rack's cards are. */
export function RackTools({ sheet }: { readonly sheet: ProjectSheet }) {
  const query = useViewStore((s) => s.layerQuery)
  const hasSmallCards = useViewStore((s) => s.hasSmallCards)
  const layerId = useViewStore((s) => s.layerId)
  useEffect(() => {
    try {
      if (localStorage.getItem(KEY) === '1') setBench({ hasSmallCards: true })
    } catch {
      // See above.
    }
    return () => setBench({ layerQuery: '' })
  }, [])
  const found = query.trim() === '' ? [] : layersOf(sheet).filter((layer) => isFound(layer, query))
  const at = found.findIndex(({ id }) => id === layerId)
  const step = (by: number) => {
    const next = found.at((at < 0 && by < 0 ? 0 : at + by) % Math.max(1, found.length))
    if (!next) return
    revealLayer(next.id)
    chooseLayer(next.id)
  }
  return (
    <span className="rack-tools">
      <input
        id="find-layer"
        type="search"
        aria-label="Find a layer"
        placeholder="Find a layer"
        value={query}
        onChange={(e) => setBench({ layerQuery: e.target.value })}
        onKeyDown={(e) => {
          if (e.key === 'Enter') step(e.shiftKey ? -1 : 1)
          if (e.key !== 'Escape') return
          setBench({ layerQuery: '' })
          e.currentTarget.blur()
        }}
      />
      <span role="status" className="found">
        {query.trim() !== '' && (found.length === 0 ? 'None' : `${at + 1} of ${found.length}`)}
      </span>
      <button className="link" aria-pressed={hasSmallCards} onClick={() => setSmallCards(!hasSmallCards)}>
        {hasSmallCards ? 'Large cards' : 'Small cards'}
      </button>
    </span>
  )
}

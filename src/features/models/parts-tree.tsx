'use client'

import { useMemo, useRef, useState, type DragEvent, type KeyboardEvent, type MouseEvent } from 'react'
import { roleNow } from '@/core/scene/part-role'
import type { Project } from '@/data/project-schema'
import { hideParts, moveToGroup, nestGroup, partsOf, showParts } from '@/state/model-actions'
import { setBench, useViewStore } from '@/state/view-store'
import { PartCells } from './part-cells'
import { PartName } from './part-name'
import { PartsTreeStyles } from './parts-tree-styles'
import { partsBetween, partsInGroup, treeRows, type TreeRow } from './tree-rows'

/** What is dragged, as the drag carries it. */
const DRAG_TYPE = 'application/x-parts'

type Held = { readonly ctrlKey: boolean; readonly metaKey: boolean; readonly shiftKey: boolean }

const nameOf = (row: TreeRow): string =>
  row.type === 'part' ? row.part.name : row.type === 'group' ? row.group.name : row.model.name

interface PartsTreeProps {
  readonly project: Project
  readonly search: string
}

/** Groups, models and their parts: chosen, renamed, hidden, given roles and moved between groups here. */
export function PartsTree({ project, search }: PartsTreeProps) {
  const chosen = useViewStore((s) => s.partKeys)
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set())
  const [focused, setFocused] = useState<string | null>(null)
  const [renaming, setRenaming] = useState<string | null>(null)
  const [dropOn, setDropOn] = useState<string | null>(null)
  const anchor = useRef<string | null>(null)
  const treeRef = useRef<HTMLDivElement>(null)
  const rows = useMemo(() => treeRows(project, search, folded), [project, search, folded])
  const isChosen = new Set(chosen)

  const keysOf = (row: TreeRow): string[] =>
    row.type === 'part'
      ? [row.key]
      : row.type === 'group'
        ? partsInGroup(project, row.group.id)
        : row.model.parts.map((part) => part.key)
  /** What an act on this line is meant for: all that is chosen where it is among them. */
  const meant = (row: TreeRow): string[] =>
    row.type === 'part' && isChosen.has(row.key) ? [...chosen] : keysOf(row)

  const choose = (row: TreeRow, held: Held) => {
    const keys = keysOf(row)
    if (held.shiftKey && anchor.current !== null) {
      setBench({ partKeys: partsBetween(rows, anchor.current, row.key) })
      return
    }
    anchor.current = row.key
    setBench({ modelId: row.type === 'group' ? null : row.model.id })
    if (held.ctrlKey || held.metaKey) {
      const all = keys.every((key) => isChosen.has(key))
      const others = chosen.filter((key) => !keys.includes(key))
      setBench({ partKeys: all ? others : [...others, ...keys] })
    } else setBench({ partKeys: keys })
  }
  const fold = (row: TreeRow, close: boolean) =>
    setFolded((before) => {
      const after = new Set(before)
      if (close) after.add(row.key)
      else after.delete(row.key)
      return after
    })
  const goTo = (index: number, held: Held) => {
    const row = rows[index] as TreeRow | undefined
    if (!row) return
    setFocused(row.key)
    if (!held.ctrlKey && !held.metaKey) choose(row, held)
    const element = treeRef.current?.querySelector<HTMLElement>(`[data-row="${CSS.escape(row.key)}"]`)
    element?.focus()
    element?.scrollIntoView({ block: 'nearest' })
  }
  const toggleSeen = (row: TreeRow) => {
    const keys = meant(row)
    if (partsOf(project, keys).every((part) => roleNow(part) === 'off')) showParts(keys)
    else hideParts(keys)
  }
  const onKey = (event: KeyboardEvent, row: TreeRow, index: number) => {
    if (event.target !== event.currentTarget || event.altKey) return
    const by = { ArrowDown: 1, ArrowUp: -1, PageDown: 12, PageUp: -12 }[event.key]
    if (by !== undefined) goTo(Math.min(rows.length - 1, Math.max(0, index + by)), event)
    else if (event.key === 'Home') goTo(0, event)
    else if (event.key === 'End') goTo(rows.length - 1, event)
    else if (event.key === 'ArrowLeft' && row.type !== 'part') fold(row, true)
    else if (event.key === 'ArrowRight' && row.type !== 'part') fold(row, false)
    else if (event.key === 'F2' || event.key === 'Enter') setRenaming(row.key)
    else if (event.key === ' ' && (event.ctrlKey || event.metaKey)) choose(row, event)
    else if (event.key === ' ') toggleSeen(row)
    else if (event.key.toLowerCase() === 'a' && (event.ctrlKey || event.metaKey))
      setBench({ partKeys: rows.filter((r) => r.type === 'part').map((r) => r.key) })
    else return
    event.preventDefault()
  }

  const dragged = useRef<{ readonly parts: readonly string[]; readonly groupId: string | null } | null>(null)
  const onDragStart = (event: DragEvent, row: TreeRow) => {
    if (row.type === 'model') return
    dragged.current =
      row.type === 'group' ? { parts: [], groupId: row.group.id } : { parts: meant(row), groupId: null }
    event.dataTransfer.setData(DRAG_TYPE, row.key)
    event.dataTransfer.effectAllowed = 'move'
  }
  /** The group a drop on this line moves things into; undefined where it would do nothing. */
  const groupUnder = (row: TreeRow): string | null =>
    row.type === 'group' ? row.group.id : row.type === 'part' ? row.part.groupId : null
  const onDrop = (event: DragEvent, row: TreeRow) => {
    if (!event.dataTransfer.types.includes(DRAG_TYPE)) return
    event.preventDefault()
    event.stopPropagation()
    setDropOn(null)
    const what = dragged.current
    dragged.current = null
    if (!what) return
    const to = groupUnder(row)
    if (what.groupId === null) moveToGroup(what.parts, to)
    else if (what.groupId !== to) nestGroup(what.groupId, to)
  }

  return (
    <div className="parts" role="tree" aria-label="Parts" aria-multiselectable="true" ref={treeRef}>
      <PartsTreeStyles />
      {rows.length === 0 && <p className="quiet no-rows">Nothing is called that, and no material is.</p>}
      {rows.map((row, index) => {
        const isFolder = row.type !== 'part'
        const open = isFolder && (search.trim() !== '' || !folded.has(row.key))
        const seen = keysSeen(row, project)
        const name = nameOf(row)
        const selected = row.type === 'part' ? isChosen.has(row.key) : undefined
        return (
          <div
            key={row.key}
            data-row={row.key}
            className={`part-row ${row.type} ${seen ? '' : 'off'} ${dropOn === row.key ? 'drop' : ''}`}
            role="treeitem"
            aria-level={row.depth + 1}
            aria-selected={selected ?? false}
            aria-expanded={isFolder ? open : undefined}
            tabIndex={(focused ?? rows[0].key) === row.key ? 0 : -1}
            draggable={row.type !== 'model' && renaming === null}
            onDragStart={(e) => onDragStart(e, row)}
            onDragOver={(e) => {
              if (!e.dataTransfer.types.includes(DRAG_TYPE)) return
              e.preventDefault()
              e.stopPropagation()
              setDropOn(row.key)
            }}
            onDragLeave={() => setDropOn(null)}
            onDrop={(e) => onDrop(e, row)}
            onFocus={() => setFocused(row.key)}
            onClick={(e: MouseEvent) => choose(row, e)}
            onDoubleClick={() => setRenaming(row.key)}
            onKeyDown={(e) => onKey(e, row, index)}
          >
            <button
              className="icon-button"
              tabIndex={-1}
              aria-label={`${seen ? 'Hide' : 'Show'} ${name}`}
              title={seen ? 'Hide' : 'Show'}
              onClick={(e) => {
                e.stopPropagation()
                toggleSeen(row)
              }}
            >
              {seen ? '●' : '○'}
            </button>
            <PartName
              row={row}
              name={name}
              open={isFolder ? open : null}
              isRenaming={renaming === row.key}
              onFold={() => fold(row, open)}
              onRenamed={() => setRenaming(null)}
            />
            <PartCells row={row} name={name} meant={() => meant(row)} />
          </div>
        )
      })}
    </div>
  )
}

/** Whether anything of a line is not off. */
function keysSeen(row: TreeRow, project: Project): boolean {
  if (row.type === 'part') return roleNow(row.part) !== 'off'
  if (row.type === 'model') return row.model.parts.some((part) => roleNow(part) !== 'off')
  const keys = new Set(partsInGroup(project, row.group.id))
  return (
    keys.size === 0 ||
    project.models.some((m) => m.parts.some((p) => keys.has(p.key) && roleNow(p) !== 'off'))
  )
}

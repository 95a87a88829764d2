'use client'

import { useState } from 'react'
import { toHex } from '@/core/math/colour'
import { PART_ROLES } from '@/core/scene/part-role'
import type { SurfaceTerm } from '@/core/sheet/terms/registry'
import type { BesideSheets } from '@/data/project-schema'

interface Item {
  readonly key: string
  readonly name: string
  readonly colour: string | null
}
interface Items {
  readonly heading: string
  readonly items: readonly Item[]
}

const ROLE_NAMES: Readonly<Record<string, string>> = { subject: 'The subject', ground: 'The ground' }

/** Everything that a term of a kind can name, under headings. */
function itemsOf({ models, groups }: BesideSheets, kind: SurfaceTerm['kind']): readonly Items[] {
  switch (kind) {
    case 'parts':
      return models.map(({ name, parts }) => ({
        heading: name,
        items: parts.map((part) => ({ key: part.key, name: part.name, colour: null })),
      }))
    case 'materials':
      return models.map(({ name, materials }) => ({
        heading: name,
        items: materials.map((m) => ({ key: m.key, name: m.name, colour: toHex(m.baseColour) })),
      }))
    case 'groups':
      return [{ heading: 'Groups', items: groups.map(({ name }) => ({ key: name, name, colour: null })) }]
    case 'roles':
      return [
        {
          heading: 'Roles',
          items: PART_ROLES.filter((role) => role in ROLE_NAMES).map((role) => ({
            key: role,
            name: ROLE_NAMES[role],
            colour: null,
          })),
        },
      ]
  }
}

/** Names of what a term names; "gone" for what is there no more. */
export function surfaceNames(project: BesideSheets, { kind, keys }: SurfaceTerm): string[] {
  const names = new Map(
    itemsOf(project, kind).flatMap(({ items }) => items.map((item) => [item.key, item.name] as const)),
  )
  return keys.map((key) => names.get(key) ?? 'gone')
}

interface SurfaceListProps {
  readonly project: BesideSheets
  readonly term: SurfaceTerm
  readonly onChange: (term: SurfaceTerm) => void
}

/** Everything that can be named, to be ticked: what is ticked shows in the proof at once. */
export function SurfaceList({ project, term, onChange }: SurfaceListProps) {
  const [search, setSearch] = useState('')
  const lists = itemsOf(project, term.kind).map(({ heading, items }) => ({
    heading,
    items: items.filter((item) => item.name.toLowerCase().includes(search.toLowerCase())),
  }))
  const toggle = (key: string, on: boolean) =>
    onChange({ ...term, keys: on ? [...term.keys, key] : term.keys.filter((k) => k !== key) })
  const isEmpty = lists.every(({ items }) => items.length === 0)
  return (
    <>
      <input
        autoFocus
        className="plain-select"
        placeholder="Search"
        aria-label="Search"
        value={search}
        onChange={(e) => setSearch(e.target.value)}
        style={{ width: '100%', margin: '6px 0 8px' }}
      />
      <div className="pick-list">
        {lists.map(({ heading, items }) => (
          <div key={heading} role="group" aria-label={heading}>
            {lists.length > 1 && items.length > 0 && <div className="pick-head">{heading}</div>}
            {items.map((item) => (
              <label key={item.key}>
                <input
                  type="checkbox"
                  checked={term.keys.includes(item.key)}
                  onChange={(e) => toggle(item.key, e.target.checked)}
                />
                {item.colour && <i style={{ background: item.colour }} />}
                {item.name}
              </label>
            ))}
          </div>
        ))}
        {isEmpty && <p className="quiet">Nothing of that kind.</p>}
      </div>
      <p className="quiet">{term.keys.length === 0 ? 'Nothing chosen yet' : `${term.keys.length} chosen`}</p>
    </>
  )
}

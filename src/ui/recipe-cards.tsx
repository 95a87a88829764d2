'use client'

import { useEffect, useMemo } from 'react'
import { useLiveQuery } from 'dexie-react-hooks'
import { database, type RecipeRow } from '@/data/database'
import { READY_RECIPES } from '@/data/recipes/ready/registry'
import { pageStyles } from './page-styles'

/** A recipe as it is offered. */
export interface OfferedRecipe {
  readonly id: string
  readonly name: string
  readonly note: string
  /** Addresses of pictures, and what they are of. */
  readonly pictures: readonly { readonly of: string; readonly url: string }[]
  readonly isOwn: boolean
}

/** The models that our own recipes are shown on. */
const SHOWN_ON = [
  { of: 'Low Water', file: 'low-water' },
  { of: 'Fog Bell', file: 'fog-bell' },
] as const

const READY: readonly OfferedRecipe[] = READY_RECIPES.map(({ id, name, note }) => ({
  id,
  name,
  note,
  pictures: SHOWN_ON.map(({ of, file }) => ({ of, url: `/recipes/${id}-${file}.jpg` })),
  isOwn: false,
}))

/** Recipes of this browser, the newest first, and our own. */
export function useRecipes(): {
  readonly own: readonly OfferedRecipe[]
  readonly ready: readonly OfferedRecipe[]
} {
  const rows = useLiveQuery(() => database.recipes.orderBy('savedAt').reverse().toArray())
  const kept = useMemo(() => rows?.filter(({ deletedAt }) => deletedAt === null) ?? [], [rows])
  const urls = useMemo(() => new Map(kept.map((row) => [row.id, urlOf(row)] as const)), [kept])
  useEffect(
    () => () => {
      for (const url of urls.values()) if (url) URL.revokeObjectURL(url)
    },
    [urls],
  )
  const own = useMemo(
    () =>
      kept.map(({ id, name, note }): OfferedRecipe => {
        const url = urls.get(id)
        return { id, name, note, pictures: url ? [{ of: name, url }] : [], isOwn: true }
      }),
    [kept, urls],
  )
  return { own, ready: READY }
}

const urlOf = ({ seen }: RecipeRow): string | null =>
  seen && URL.createObjectURL(new Blob([seen], { type: 'image/png' }))

interface RecipeCardProps {
  readonly recipe: OfferedRecipe
  readonly onChoose: () => void
}

/** A recipe by its picture and its name. */
export function RecipeCard({ recipe, onChoose }: RecipeCardProps) {
  const [picture] = recipe.pictures
  return (
    <button
      className="recipe-card"
      onClick={onChoose}
      title={recipe.note}
      data-testid={`recipe-${recipe.id}`}
    >
      {picture ? (
        <img src={picture.url} alt="" loading="lazy" draggable={false} />
      ) : (
        <span className="no-picture">No picture</span>
      )}
      <span>{recipe.name}</span>
    </button>
  )
}

const styles = {
  '.recipe-card': {
    font: 'inherit',
    color: 'var(--ink)',
    background: 'none',
    border: 0,
    padding: 0,
    textAlign: 'left',
    cursor: 'pointer',
    display: 'grid',
    gap: 5,
    minWidth: 0,
  },
  '.recipe-card img, .recipe-card .no-picture': {
    width: '100%',
    aspectRatio: '16 / 10',
    objectFit: 'cover',
    display: 'block',
    borderRadius: 3,
    background: 'var(--low)',
    boxShadow: '0 0 0 1px var(--rule)',
  },
  '.recipe-card .no-picture': {
    display: 'grid',
    placeItems: 'center',
    color: 'var(--ink-3)',
    fontSize: 11.5,
  },
  '.recipe-card:hover img': {
    boxShadow: '0 0 0 2px var(--slate)',
  },
  '.recipe-card > span:last-child': {
    lineHeight: 1.25,
    overflow: 'hidden',
    textOverflow: 'ellipsis',
  },
} as const

export const RecipeCardStyles = pageStyles(styles)

'use client'

import { useRouter } from 'next/navigation'
import { useLiveQuery } from 'dexie-react-hooks'
import { database, type ProjectRow } from '@/data/database'
import { postersIn, type StoredPoster } from '@/data/looks'
import { plural } from '@/core/plural'
import { setBench } from '@/state/view-store'
import { Thumbnail } from './thumbnail'

/** The most posters of a project that are shown beside it. */
const MOST = 3

/** A project's posters, beside it: how each hangs, or its first page. */
export function PosterShelf({ row }: { readonly row: ProjectRow }) {
  const looks = useLiveQuery(() => database.looks.where('projectId').equals(row.id).toArray(), [row.id])
  const router = useRouter()
  const posters = postersIn(row)
  if (posters.length === 0) return null
  const open = (sheetId: string) => {
    setBench({ wantedPageId: sheetId, layerId: null })
    router.push(`/project/${encodeURIComponent(row.id)}/poster`)
  }
  const seen = ({ sheetIds }: StoredPoster) => {
    const known = sheetIds.find((id) => looks?.some(({ sheetId }) => sheetId === id))
    return {
      id: known ?? sheetIds.at(-1),
      bytes: looks?.find(({ sheetId }) => sheetId === known)?.bytes ?? null,
    }
  }
  return (
    <li className="poster-shelf">
      <ul aria-label={`Posters of ${row.name}`}>
        {posters.slice(0, MOST).map((poster) => {
          const { id, bytes } = seen(poster)
          return (
            <li key={poster.id}>
              <button className="poster-look" disabled={id === undefined} onClick={() => id && open(id)}>
                <span className="picture">
                  <Thumbnail bytes={bytes} />
                </span>
                <span className="name">{poster.name}</span>
                <span className="quiet">{plural(poster.formats, 'format')}</span>
              </button>
            </li>
          )
        })}
      </ul>
      {posters.length > MOST && <p className="quiet">and {plural(posters.length - MOST, 'more poster')}</p>}
    </li>
  )
}

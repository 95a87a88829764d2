'use client'

import { useEffect, useMemo, useRef, useState } from 'react'
import MiniSearch from 'minisearch'
import { loadGuide, type Guide, type GuidePage } from '@/data/guide'
import { GuideStyles } from './guide-styles'

interface GuideReaderProps {
  /** Page and anchor: `passes/contour`; empty: the first page. */
  readonly place: string
  readonly onPlace: (place: string) => void
}

/** The most places that are found at once. */
const MOST_FOUND = 14
/** Letters around the first word that was found. */
const AROUND = 60

interface Place {
  readonly id: string
  readonly page: string
  readonly title: string
  readonly text: string
}

/** Every section of the guide, to be found by its words. */
function placesOf({ pages }: Guide): { readonly find: (query: string) => Place[] } {
  const places = pages.flatMap((page) =>
    page.sections.map(({ anchor, title, text }) => ({
      id: `${page.slug}/${anchor}`,
      page: page.title,
      title,
      text,
    })),
  )
  const index = new MiniSearch<Place>({
    fields: ['title', 'page', 'text'],
    searchOptions: { prefix: true, fuzzy: 0.15, boost: { title: 4, page: 2 }, combineWith: 'AND' },
  })
  index.addAll(places)
  const byId = new Map(places.map((place) => [place.id, place]))
  return {
    find: (query) =>
      index
        .search(query)
        .slice(0, MOST_FOUND)
        .flatMap(({ id }) => byId.get(String(id)) ?? []),
  }
}

/** Some words of a section around the first that was looked for. */
function around(text: string, query: string): string {
  const [word] = query.toLowerCase().split(/\s+/)
  const at = Math.max(0, text.toLowerCase().indexOf(word))
  const from = Math.max(0, at - AROUND)
  return `${from > 0 ? '… ' : ''}${text.slice(from, at + 2 * AROUND)}${at + 2 * AROUND < text.length ? ' …' : ''}`
}

/** The user's guide: its pages, what is read of them, and a search through all. */
export function GuideReader({ place, onPlace }: GuideReaderProps) {
  const [guide, setGuide] = useState<Guide | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const [query, setQuery] = useState('')
  useEffect(() => {
    let isOver = false
    loadGuide().then(
      (own) => !isOver && setGuide(own),
      (error: unknown) => !isOver && setProblem(error instanceof Error ? error.message : String(error)),
    )
    return () => {
      isOver = true
    }
  }, [])
  const places = useMemo(() => guide && placesOf(guide), [guide])
  const found = query.trim() === '' ? [] : (places?.find(query) ?? [])
  const [slug, anchor = ''] = place.split('/')
  const page = guide?.pages.find((own) => own.slug === slug) ?? guide?.pages[0]
  const groups = [...new Set(guide?.pages.map((own) => own.group))]
  const go = (to: string) => {
    setQuery('')
    onPlace(to)
  }
  return (
    <div className="guide">
      <GuideStyles />
      <nav aria-label="Pages of the guide">
        <input
          type="search"
          className="plain-text"
          placeholder="Search the guide"
          aria-label="Search the guide"
          value={query}
          maxLength={120}
          onChange={(e) => setQuery(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === 'Enter' && found.length > 0) go(found[0].id)
          }}
          data-testid="guide-search"
        />
        {query.trim() !== '' ? (
          <>
            <p className="quiet" role="status">
              {found.length === 0 ? 'Nothing in the guide speaks of that.' : `${found.length} places`}
            </p>
            <ul className="guide-found">
              {found.map((own) => (
                <li key={own.id}>
                  <button className="link" onClick={() => go(own.id)}>
                    {own.title}
                    {own.title !== own.page && <span className="quiet"> in {own.page}</span>}
                  </button>
                  <p>{around(own.text, query)}</p>
                </li>
              ))}
            </ul>
          </>
        ) : (
          groups.map((group) => (
            <section key={group} aria-label={group}>
              <b>{group}</b>
              <ul>
                {guide?.pages
                  .filter((own) => own.group === group)
                  .map((own) => (
                    <li key={own.slug}>
                      <button
                        className="link"
                        aria-current={own === page ? 'page' : undefined}
                        onClick={() => go(own.slug)}
                      >
                        {own.title}
                      </button>
                    </li>
                  ))}
              </ul>
            </section>
          ))
        )}
      </nav>
      {problem !== null ? (
        <p className="problem" role="alert">
          {problem}
        </p>
      ) : (
        page && <GuideText key={page.slug} page={page} anchor={anchor} onPlace={go} />
      )}
    </div>
  )
}

function GuideText({
  page,
  anchor,
  onPlace,
}: {
  readonly page: GuidePage
  readonly anchor: string
  readonly onPlace: (place: string) => void
}) {
  const ref = useRef<HTMLElement>(null)
  useEffect(() => {
    const heading = anchor === '' ? null : document.getElementById(`${page.slug}-${anchor}`)
    if (heading) heading.scrollIntoView({ block: 'start' })
    else if (ref.current) ref.current.scrollTop = 0
  }, [page, anchor])
  return (
    <article
      ref={ref}
      aria-label={page.title}
      tabIndex={0}
      onClick={(e) => {
        const link = e.target instanceof Element ? e.target.closest('a') : null
        const to = link?.getAttribute('href')
        if (!to?.startsWith('#')) return
        e.preventDefault()
        onPlace(to.slice(1).replace(/\/$/, ''))
      }}
      // Made of the project's own documents when it was built.
      dangerouslySetInnerHTML={{ __html: page.html }}
    />
  )
}

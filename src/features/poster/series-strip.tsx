'use client'

import { useState } from 'react'
import ListSubheader from '@mui/material/ListSubheader'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { PAPER_SIZES, pageOf, sizeInWords, type PaperSize } from '@/data/page-size'
import { mockupsOf, pagesOf, posterOf } from '@/data/poster-series'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { addMockup, addPage, addPoster, FIRST_PAPER, goToPage } from '@/state/poster-actions'
import { setBench, useViewStore } from '@/state/view-store'

interface SeriesStripProps {
  readonly project: Project
  /** The page or mock-up at work. */
  readonly at: ProjectSheet
  readonly isSquinting: boolean
  readonly onSquint: (squinting: boolean) => void
}

/** The longer side of a format's own small page. */
const ICON = 19

/** The formats of the poster at work, as little pages; and how it is looked at. */
export function SeriesStrip({ project, at, isSquinting, onSquint }: SeriesStripProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const seenAs = useViewStore((s) => s.seenAs)
  const posterId = posterOf(at) ?? ''
  const mockups = mockupsOf(project, posterId)
  const isPage = at.page !== undefined
  const pages = pagesOf(project, posterId)
  return (
    <div className="series" role="group" aria-label="Series">
      {project.posters.length > 1 ? (
        <select
          className="plain-select name"
          aria-label="Poster at work"
          value={posterId}
          onChange={(e) => {
            const [first] = pagesOf(project, e.target.value)
            if (first) goToPage(first.id)
            setBench({ layerId: null })
          }}
        >
          {project.posters.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      ) : (
        <span className="name">{project.posters[0]?.name ?? 'Series'}</span>
      )}
      {pages.map((own) => {
        const { widthMm, heightMm } = pageOf(own)
        const per = ICON / Math.max(widthMm, heightMm)
        return (
          <button
            key={own.id}
            className="format"
            aria-pressed={own.id === at.id}
            title={sizeInWords(pageOf(own))}
            onClick={() => goToPage(own.id)}
          >
            <i
              style={{ width: Math.max(4, widthMm * per), height: Math.max(4, heightMm * per) }}
              aria-hidden="true"
            />
            {own.name}
          </button>
        )
      })}
      <button
        className="link"
        aria-haspopup="menu"
        data-testid="add-format"
        title="Add a format"
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        + format
      </button>
      <span className="bar" aria-hidden="true" />
      {mockups.map((own) => (
        <button
          key={own.id}
          className="format mockup"
          aria-pressed={own.id === at.id}
          title={`Mock-up, ${own.width} × ${own.height} px`}
          onClick={() => goToPage(own.id)}
        >
          <i className="curled" aria-hidden="true" />
          <span className="short">{own.name}</span>
        </button>
      ))}
      {isPage && (
        <button
          className="link"
          onClick={addMockup}
          data-testid="add-mockup"
          title="Show this format on paper, in a mock-up"
        >
          {mockups.length > 0 ? '+ mock-up' : 'Show it on paper'}
        </button>
      )}
      <span className="looks">
        <button className="link" aria-pressed={isSquinting} onClick={() => onSquint(!isSquinting)}>
          Squint
        </button>
        <button
          className="link"
          aria-pressed={seenAs === 'afar'}
          onClick={() => setBench({ seenAs: seenAs === 'afar' ? 'plain' : 'afar' })}
        >
          As a thumbnail
        </button>
      </span>
      <FormatMenu
        anchor={anchor}
        onClose={() => setAnchor(null)}
        onFormat={(size, isLying) => addPage(size, isLying)}
        onPoster={() => addPoster(FIRST_PAPER)}
      />
    </div>
  )
}

interface FormatMenuProps {
  readonly anchor: HTMLElement | null
  readonly onClose: () => void
  readonly onFormat: (size: PaperSize, isLying: boolean) => void
  readonly onPoster: () => void
}

const GROUPS = ['A', 'B', 'Inches', 'Screens'] as const
const groupLabels = { A: 'A series', B: 'B series', Inches: 'Inches', Screens: 'Screens' } as const

/** Every format that can be added. */
function FormatMenu({ anchor, onClose, onFormat, onPoster }: FormatMenuProps) {
  const choose = (action: () => void) => () => {
    onClose()
    action()
  }
  return (
    <Menu
      open={anchor !== null}
      anchorEl={anchor}
      container={() => anchor?.closest('main') ?? null}
      onClose={onClose}
      slotProps={{ paper: { sx: { maxHeight: 420 } } }}
    >
      <MenuItem dense onClick={choose(onPoster)} data-testid="new-poster">
        Another poster
      </MenuItem>
      {GROUPS.flatMap((group) => [
        <ListSubheader key={group} role="presentation" sx={{ lineHeight: '28px' }}>
          {groupLabels[group]}
        </ListSubheader>,
        ...PAPER_SIZES.filter((size) => size.group === group).map((size) => (
          <MenuItem dense key={size.label} onClick={choose(() => onFormat(size, false))}>
            {size.label}
          </MenuItem>
        )),
      ])}
      <ListSubheader role="presentation" sx={{ lineHeight: '28px' }}>
        Lying
      </ListSubheader>
      {PAPER_SIZES.filter(({ group }) => group === 'A').map((size) => (
        <MenuItem dense key={size.label} onClick={choose(() => onFormat(size, true))}>
          {size.label} lying
        </MenuItem>
      ))}
    </Menu>
  )
}

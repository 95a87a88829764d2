'use client'

import type { ContentOf } from '@/core/sheet/contents/registry'
import { sheetsOf } from '@/data/active-shot'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'
import { ContentSection } from '../sheet/content-section'
import { changeContent } from '../sheet/layer-actions'

interface SheetFrameSectionProps {
  readonly project: Project
  readonly page: ProjectSheet
  readonly layerId: string
  readonly content: ContentOf<'sheet'>
}

/** Which sheet a frame shows, and which part of it. */
export function SheetFrameSection({ project, page, layerId, content }: SheetFrameSectionProps) {
  const sheets = project.shots.flatMap(({ id }) => sheetsOf(project, id))
  const isThere = sheets.some(({ id }) => id === content.sheetId)
  const place = (axis: 0 | 1, label: string) => (
    <NumberField
      label={label}
      value={Math.round(content.focus[axis] * 100)}
      min={-50}
      max={150}
      step={1}
      unit="%"
      defaultValue={50}
      onChange={(value) =>
        changeContent(
          layerId,
          'sheet',
          'which part',
          (own) => void (own.focus[axis] = value / 100),
          `focus ${axis}`,
        )
      }
    />
  )
  return (
    <>
      <section className="section">
        <div className="section-head">
          <span>Shows</span>
          <span>
            <button
              className="link"
              onClick={() =>
                changeContent(layerId, 'sheet', 'cover the page', (own) => void (own.box = [0, 0, 1, 1]))
              }
            >
              Cover the page
            </button>
          </span>
        </div>
        {!isThere && (
          <p className="problem" role="status">
            Its sheet is gone: choose another.
          </p>
        )}
        <SelectRow
          id="shown-sheet"
          label="Sheet"
          value={isThere ? content.sheetId : ''}
          onChange={(picked) =>
            changeContent(layerId, 'sheet', 'show another sheet', (own) => void (own.sheetId = picked))
          }
        >
          {!isThere && <option value="">Gone</option>}
          {sheets.map(({ id, name, shotId }) => (
            <option key={id} value={id}>
              {shotId === page.shotId
                ? name
                : `${name}, ${project.shots.find((shot) => shot.id === shotId)?.name ?? ''}`}
            </option>
          ))}
        </SelectRow>
        {place(0, 'Across')}
        {place(1, 'Down')}
      </section>
      <ContentSection layerId={layerId} content={content} />
    </>
  )
}

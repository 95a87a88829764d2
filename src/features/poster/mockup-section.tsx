'use client'

import type { ContentOf } from '@/core/sheet/contents/registry'
import { fromReadyRig, READY_RIGS } from '@/core/scene/ready-rigs'
import { pagesOf } from '@/data/poster-series'
import { newId } from '@/data/new-project'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { SelectRow } from '@/ui/select-row'
import { ContentSection } from '../sheet/content-section'
import { changeContent } from '../sheet/layer-actions'

interface PrintedSectionProps {
  readonly project: Project
  readonly sheet: ProjectSheet
  readonly layerId: string
  readonly content: ContentOf<'mockup'> | ContentOf<'fitted'>
}

/** Which page is printed on something. */
function PrintedPage({ project, sheet, layerId, content }: PrintedSectionProps) {
  const pages = [
    ...pagesOf(project, sheet.mockupOf ?? ''),
    ...project.sheets.filter(({ page, mockupOf }) => !page && mockupOf === undefined),
  ]
  const isThere = pages.some(({ id }) => id === content.sheetId)
  return (
    <>
      {!isThere && (
        <p className="problem" role="status">
          Its page is gone: choose another.
        </p>
      )}
      <SelectRow
        id="printed-page"
        label="Prints"
        value={isThere ? content.sheetId : ''}
        onChange={(picked) =>
          changeContent(layerId, content.kind, 'print another page', (own) => void (own.sheetId = picked))
        }
      >
        {!isThere && <option value="">Gone</option>}
        {pages.map(({ id, name, page }) => (
          <option key={id} value={id}>
            {page ? name : `${name} (sheet)`}
          </option>
        ))}
      </SelectRow>
    </>
  )
}

/** A page on paper: which, lit by what, and all that is set of it. */
export function MockupSection(props: PrintedSectionProps & { readonly content: ContentOf<'mockup'> }) {
  const { project, layerId, content } = props
  const rigs = [
    ...READY_RIGS.map((ready) => ({
      id: `ready ${ready.name}`,
      name: ready.name,
      make: () => fromReadyRig(ready, newId),
    })),
    ...project.rigs.map((rig) => ({
      id: rig.id,
      name: `${rig.name} (project)`,
      make: () => structuredClone(rig),
    })),
  ]
  const now = rigs.find(({ id, name }) => id === content.rig.id || name === content.rig.name)
  return (
    <>
      <section className="section">
        <div className="section-head">
          <span>On paper</span>
          <span>
            <button
              className="link"
              onClick={() =>
                changeContent(
                  layerId,
                  'mockup',
                  'crease it anew',
                  (own) => void (own.seed = (own.seed + 1) % 10000),
                )
              }
            >
              Crease it anew
            </button>
          </span>
        </div>
        <PrintedPage {...props} />
        <SelectRow
          id="mockup-rig"
          label="Lit by"
          value={now?.id ?? ''}
          onChange={(picked) => {
            const next = rigs.find(({ id }) => id === picked)
            if (next)
              changeContent(layerId, 'mockup', 'light it otherwise', (own) => void (own.rig = next.make()))
          }}
        >
          {!now && <option value="">{content.rig.name}</option>}
          {rigs.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </SelectRow>
      </section>
      <ContentSection layerId={layerId} content={content} />
    </>
  )
}

interface FittedSectionProps extends PrintedSectionProps {
  readonly content: ContentOf<'fitted'>
  /** Measures how bright the surface beneath is. */
  readonly onMeasure: () => void
}

/** A page in a picture: which, how it lies, and how light falls on it. */
export function FittedSection({ onMeasure, ...props }: FittedSectionProps) {
  const { layerId, content } = props
  return (
    <>
      <section className="section">
        <div className="section-head">
          <span>In the picture</span>
          <span>
            <button
              className="link"
              aria-pressed={content.bends.length > 0}
              onClick={() =>
                changeContent(
                  layerId,
                  'fitted',
                  content.bends.length > 0 ? 'flatten it' : 'bend it',
                  (own) => {
                    own.bends = own.bends.length > 0 ? [] : Array.from({ length: 16 }, () => [0, 0])
                  },
                )
              }
            >
              {content.bends.length > 0 ? 'Flat again' : 'Bend'}
            </button>
            <button
              className="link"
              onClick={onMeasure}
              title="Press a bare, evenly lit place of the surface"
            >
              Measure
            </button>
          </span>
        </div>
        <PrintedPage {...props} />
      </section>
      <ContentSection layerId={layerId} content={content} />
    </>
  )
}

'use client'

import { PAPER_SIZES, fromUnit, inUnit, pageOf, sizeInWords } from '@/data/page-size'
import { PAGE_UNITS, type Page, type Project, type ProjectSheet } from '@/data/project-schema'
import { changePage, removePage, removePoster, renamePage, renamePoster } from '@/state/poster-actions'
import { changeSheet } from '@/state/sheet-actions'
import { ColourRow } from '@/ui/colour-row'
import { NameRow } from '@/ui/name-row'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'
import { SwitchRow } from '@/ui/switch-row'
import { InksSection } from './inks-section'
import { PosterOut } from './poster-out'
import { SheetLayers } from './sheet-layers'

interface PageInspectorProps {
  readonly project: Project
  readonly page: ProjectSheet
}

const isSize = (own: Page, size: (typeof PAPER_SIZES)[number], isLying: boolean): boolean => {
  const [width, height] = isLying ? [size.heightMm, size.widthMm] : [size.widthMm, size.heightMm]
  return (
    Math.abs(own.widthMm - width) < 0.2 && Math.abs(own.heightMm - height) < 0.2 && own.unit === size.unit
  )
}

/** The paper of the page at work, and all that lies on it. */
export function PageInspector({ project, page }: PageInspectorProps) {
  const own = pageOf(page)
  const poster = project.posters.find(({ id }) => id === own.posterId)
  const isLying = own.widthMm > own.heightMm
  const size = PAPER_SIZES.findIndex((known) => isSize(own, known, false) || isSize(own, known, true))
  const length = (
    label: string,
    valueMm: number,
    mostMm: number,
    put: (draft: Page, mm: number) => void,
    leastMm = 0,
  ) => (
    <NumberField
      label={label}
      value={Number(inUnit(valueMm, own).toFixed(own.unit === 'in' ? 3 : 1))}
      min={inUnit(leastMm, own)}
      max={inUnit(mostMm, own)}
      step={own.unit === 'in' ? 0.05 : own.unit === 'px' ? 1 : 0.5}
      unit={own.unit}
      onChange={(value) =>
        changePage(
          label.toLowerCase(),
          (draft) => put(draft as Page, Math.max(leastMm, fromUnit(value, own))),
          label,
        )
      }
    />
  )
  return (
    <>
      <div className="inspector-head">
        <h2 className="display">{page.name}</h2>
        <span className="quiet">{sizeInWords(own)}</span>
      </div>
      <SheetLayers sheet={page} title="On the page" />
      <section className="section">
        <div className="section-head">
          <span>Paper</span>
          <span>
            <button
              className="link"
              onClick={() =>
                changePage('turn the page', (draft) => {
                  ;[draft.widthMm, draft.heightMm] = [draft.heightMm, draft.widthMm]
                })
              }
            >
              {isLying ? 'Stand it up' : 'Lay it down'}
            </button>
          </span>
        </div>
        <SelectRow
          id="paper-size"
          label="Size"
          value={size}
          onChange={(picked) => {
            const next = PAPER_SIZES[Number(picked)] as (typeof PAPER_SIZES)[number] | undefined
            if (!next) return
            changePage('paper size', (draft) => {
              draft.unit = next.unit
              draft.widthMm = isLying ? next.heightMm : next.widthMm
              draft.heightMm = isLying ? next.widthMm : next.heightMm
              draft.dpi = next.dpi
              draft.bleedMm = next.bleedMm
            })
          }}
        >
          {size < 0 && <option value={-1}>Free</option>}
          {PAPER_SIZES.map(({ label }, i) => (
            <option key={label} value={i}>
              {label}
            </option>
          ))}
        </SelectRow>
        {length('Width', own.widthMm, 2000, (draft, mm) => void (draft.widthMm = mm), 10)}
        {length('Height', own.heightMm, 2000, (draft, mm) => void (draft.heightMm = mm), 10)}
        <SelectRow
          id="page-unit"
          label="Told in"
          value={own.unit}
          onChange={(picked) => changePage('unit', (draft) => void (draft.unit = picked as Page['unit']))}
        >
          {PAGE_UNITS.map((unit) => (
            <option key={unit} value={unit}>
              {unit === 'mm' ? 'millimetres' : unit === 'in' ? 'inches' : 'pixels'}
            </option>
          ))}
        </SelectRow>
        <NumberField
          label="Resolution"
          value={own.dpi}
          min={36}
          max={1200}
          step={1}
          unit="dpi"
          logarithmic
          onChange={(value) => changePage('resolution', (draft) => void (draft.dpi = value), 'dpi')}
        />
        {length('Bleed', own.bleedMm, 20, (draft, mm) => void (draft.bleedMm = mm))}
        <ColourRow
          id="paper-colour"
          label="Colour"
          value={page.background ?? '#ffffff'}
          onChange={(colour) =>
            changeSheet('paper colour', (sheet) => void (sheet.background = colour), 'paper colour')
          }
        />
        <details className="param-group">
          <summary>
            <span>Margins, columns and marks</span>
          </summary>
          {(['Top', 'Right', 'Bottom', 'Left'] as const).map((side, i) => (
            <span key={side} style={{ display: 'contents' }}>
              {length(side, own.marginsMm[i], 400, (draft, mm) => void (draft.marginsMm[i] = mm))}
            </span>
          ))}
          <NumberField
            label="Columns"
            value={own.columns}
            min={1}
            max={24}
            step={1}
            onChange={(value) => changePage('columns', (draft) => void (draft.columns = value), 'columns')}
          />
          {length('Between', own.gutterMm, 100, (draft, mm) => void (draft.gutterMm = mm))}
          {length('Lines every', own.baselineMm, 100, (draft, mm) => void (draft.baselineMm = mm))}
          <SwitchRow
            label="Crop marks"
            checked={own.marks.crop}
            onChange={(value) => changePage('crop marks', (draft) => void (draft.marks.crop = value))}
          />
          <SwitchRow
            label="Register marks"
            checked={own.marks.registration}
            onChange={(value) =>
              changePage('register marks', (draft) => void (draft.marks.registration = value))
            }
          />
        </details>
      </section>
      <InksSection page={page} />
      <PosterOut project={project} page={page} />
      <section className="section">
        <div className="section-head">
          <span>Series</span>
          <span>
            <button className="link" onClick={removePage} data-testid="remove-format">
              Remove this format
            </button>
          </span>
        </div>
        <NameRow key={page.id} label="Format" id="page-name" name={page.name} onRename={renamePage} />
        {poster && (
          <NameRow
            key={poster.id}
            label="Poster"
            id="poster-name"
            name={poster.name}
            onRename={(name) => renamePoster(poster.id, name)}
          />
        )}
        {project.posters.length > 1 && poster && (
          <button className="link" style={{ paddingLeft: 0 }} onClick={() => removePoster(poster.id)}>
            Remove the poster
          </button>
        )}
      </section>
    </>
  )
}

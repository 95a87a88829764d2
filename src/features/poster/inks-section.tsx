'use client'

import { MOST_INKS } from '@/core/effects/ink-separation'
import { newId } from '@/data/new-project'
import { firstInks, newInk, STOCKS } from '@/data/page-inks'
import { pageOf } from '@/data/page-size'
import type { Ink, PageInks, ProjectSheet } from '@/data/project-schema'
import { changeInks, changeStock } from '@/state/poster-actions'
import { setBench, useViewStore } from '@/state/view-store'
import { NumberField } from '@/ui/number-field'
import { SwitchRow } from '@/ui/switch-row'

interface InksSectionProps {
  readonly page: ProjectSheet
}

/** What a page is printed in, and on what. */
export function InksSection({ page }: InksSectionProps) {
  const own = pageOf(page)
  const { inks } = own
  const on = inks?.on ?? false
  return (
    <section className="section">
      <div className="section-head">
        <span>Print</span>
      </div>
      <SwitchRow
        label="In own inks"
        note="Separates the page into one to four inks, printed over each other"
        checked={on}
        onChange={(next) => {
          if (!next) setBench({ plateId: null })
          changeInks(
            next ? 'print in inks' : 'print in all colours',
            inks ? { ...inks, on: next } : firstInks(newId),
          )
        }}
      />
      {inks && on && <InkList inks={inks} />}
      <Stock page={page} />
    </section>
  )
}

function InkList({ inks }: { readonly inks: PageInks }) {
  const plateId = useViewStore((s) => s.plateId)
  const { list } = inks
  const change = (id: string, label: string, patch: Partial<Ink>, merge?: string) =>
    changeInks(
      label,
      { ...inks, list: list.map((ink) => (ink.id === id ? { ...ink, ...patch } : ink)) },
      merge && `${merge} ${id}`,
    )
  const remove = (id: string) => {
    if (plateId === id) setBench({ plateId: null })
    changeInks('remove an ink', { ...inks, list: list.filter((ink) => ink.id !== id) })
  }
  return (
    <>
      <ul className="ink-list" aria-label="Inks">
        {list.map(({ id, name, colour, angleDeg }) => (
          <li key={id}>
            <input
              type="color"
              className="swatch"
              aria-label={`Colour of ${name}`}
              value={colour}
              onChange={(e) => change(id, 'colour of an ink', { colour: e.target.value }, 'ink colour')}
            />
            <input
              className="plain-select"
              aria-label={`Name of ${name}`}
              defaultValue={name}
              key={name}
              maxLength={80}
              onBlur={(e) => {
                const next = e.target.value.trim()
                if (next && next !== name) change(id, 'name of an ink', { name: next })
              }}
              onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
            />
            <input
              type="number"
              className="plain-select angle"
              aria-label={`Angle of ${name}, degrees`}
              title="Angle of its screen"
              value={angleDeg}
              min={-90}
              max={90}
              onChange={(e) => {
                const next = Number(e.target.value)
                if (next >= -90 && next <= 90) change(id, 'angle of an ink', { angleDeg: next }, 'ink angle')
              }}
            />
            <span className="quiet">°</span>
            <button
              className="link"
              aria-pressed={plateId === id}
              aria-label={`See the plate of ${name} alone`}
              onClick={() => setBench({ plateId: plateId === id ? null : id })}
            >
              Plate
            </button>
            {list.length > 1 && (
              <button
                className="link"
                aria-label={`Remove ${name}`}
                title="Remove"
                onClick={() => remove(id)}
              >
                ×
              </button>
            )}
          </li>
        ))}
      </ul>
      {list.length < MOST_INKS && (
        <button
          className="link"
          style={{ paddingLeft: 0 }}
          onClick={() => changeInks('add an ink', { ...inks, list: [...list, newInk(newId(), list)] })}
          data-testid="add-ink"
        >
          Add an ink
        </button>
      )}
      <SwitchRow
        label="In dots"
        note="Each ink on a screen at its own angle"
        checked={inks.screened}
        onChange={(screened) =>
          changeInks(screened ? 'print in dots' : 'print even tones', { ...inks, screened })
        }
      />
      {inks.screened && (
        <NumberField
          label="Screen"
          value={inks.linesPerInch}
          min={10}
          max={200}
          step={1}
          unit="lpi"
          logarithmic
          onChange={(linesPerInch) => changeInks('screen', { ...inks, linesPerInch }, 'screen')}
        />
      )}
      <NumberField
        label="Misregister"
        value={inks.slipMm}
        min={0}
        max={5}
        step={0.05}
        unit="mm"
        onChange={(slipMm) => changeInks('misregister', { ...inks, slipMm }, 'misregister')}
      />
      {inks.slipMm > 0 && (
        <NumberField
          label="Slipped how"
          value={inks.slipSeed}
          min={0}
          max={9999}
          step={1}
          onChange={(slipSeed) => changeInks('how plates slip', { ...inks, slipSeed }, 'slip seed')}
        />
      )}
    </>
  )
}

/** How white the paper is and how black the ink. */
function Stock({ page }: InksSectionProps) {
  const { stock } = pageOf(page)
  const isProofed = useViewStore((s) => s.isProofed)
  const now = stock ?? STOCKS[0].stock
  const known = STOCKS.find(({ stock: own }) => own.paper === now.paper && own.black === now.black)
  const swatch = (label: string, key: 'paper' | 'black') => (
    <input
      type="color"
      className="swatch"
      aria-label={label}
      title={label}
      value={now[key]}
      onChange={(e) => changeStock({ ...now, [key]: e.target.value }, key)}
    />
  )
  return (
    <>
      <SwitchRow
        label="Soft proof"
        note="Shows white as the paper is, black as the ink is; nothing of the page changes"
        checked={isProofed}
        onChange={(next) => setBench({ isProofed: next })}
      />
      {isProofed && (
        <div className="row">
          <label htmlFor="page-stock">Stock</label>
          <span className="wide" style={{ display: 'flex', gap: 8 }}>
            <select
              id="page-stock"
              className="plain-select"
              style={{ flex: 1, minWidth: 0 }}
              value={known?.name ?? ''}
              onChange={(e) => {
                const next = STOCKS.find(({ name }) => name === e.target.value)
                if (next) changeStock({ ...next.stock })
              }}
            >
              {!known && <option value="">Own</option>}
              {STOCKS.map(({ name }) => (
                <option key={name} value={name}>
                  {name}
                </option>
              ))}
            </select>
            {swatch('Paper white', 'paper')}
            {swatch('Ink black', 'black')}
          </span>
        </div>
      )}
    </>
  )
}

'use client'

import { useEffect, useState } from 'react'
import { toHex } from '@/core/math/colour'
import { srgbToOklab } from '@/core/math/oklab'
import type { Contributions, Shade } from '@/core/sheet/evaluate/contributions'
import { activeSheet } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { askSheet } from '@/state/sheet-sync'
import { setBench, useViewStore } from '@/state/view-store'

/** A hand must have rested this long before a pixel is read again. Milliseconds. */
const REST_MS = 120
/** Layers that change a colour by less bring nothing to it. In OKLab. */
const LEAST = 0.004

const hexOf = (shade: Shade): string => toHex(shade.slice(0, 3))
const labOf = ([r, g, b]: Shade) => srgbToOklab([r, g, b])

/** Lightness, chroma and hue, as one reads them. */
function oklchText(shade: Shade): string {
  const [l, a, b] = labOf(shade)
  const chroma = Math.hypot(a, b)
  const hue = (Math.atan2(b, a) * 180) / Math.PI
  return `${(100 * l).toFixed(1)} % · ${chroma.toFixed(3)} · ${chroma < 0.004 ? '–' : `${Math.round((hue + 360) % 360)}°`}`
}

/** How far a layer moved a colour: its lightness in hundredths, and whether its hue went with it. */
function moved(before: Shade, after: Shade): { readonly by: number; readonly text: string } {
  const [x, y] = [labOf(before), labOf(after)]
  const light = 100 * (y[0] - x[0])
  const by = Math.hypot(y[0] - x[0], y[1] - x[1], y[2] - x[2]) + Math.abs(after[3] - before[3])
  return { by, text: `${light >= 0 ? '+' : '−'}${Math.abs(light).toFixed(1)}` }
}

/** The colour of a pixel, and what each layer made of it. */
export function ColourSection({ project }: { readonly project: Project }) {
  const probe = useViewStore((s) => s.probe)
  const sheet = activeSheet(project)
  const [found, setFound] = useState<Contributions | null>(null)
  useEffect(() => {
    if (!probe) return
    let stale = false
    const timer = setTimeout(async () => {
      const pixel = (share: number, length: number) =>
        Math.min(length - 1, Math.max(0, Math.floor(share * length)))
      try {
        const made = await askSheet(project, (worker) =>
          worker.contributions(pixel(probe[0], sheet.width), pixel(probe[1], sheet.height)),
        )
        if (!stale) setFound(made)
      } catch {
        // The proof tells of the same problem.
      }
    }, REST_MS)
    return () => {
      stale = true
      clearTimeout(timer)
    }
  }, [project, probe, sheet])
  if (!probe) return null
  const rows = (found?.layers ?? []).map((own) => ({ ...own, ...moved(own.before, own.after) })).reverse()
  const most = Math.max(LEAST, ...rows.map(({ by }) => by))
  return (
    <section
      className="section"
      aria-label="Colour read"
      data-testid="colour-read"
      style={{ borderTop: 0, paddingTop: 0, marginBottom: 12 }}
    >
      <div className="section-head">
        <span>Colour read</span>
        <button className="link" onClick={() => setBench({ probe: null, isReading: false })}>
          Close
        </button>
      </div>
      {found && (
        <>
          <div style={{ display: 'flex', gap: 10, alignItems: 'center', padding: '2px 0 8px' }}>
            <i
              aria-hidden="true"
              style={{
                width: 34,
                height: 34,
                border: '1px solid var(--rule-strong)',
                background: hexOf(found.colour),
                opacity: found.colour[3],
              }}
            />
            <span style={{ fontVariantNumeric: 'tabular-nums' }}>
              <b>{hexOf(found.colour)}</b>{' '}
              <span className="quiet">
                {found.colour
                  .slice(0, 3)
                  .map((v) => Math.round(255 * v))
                  .join(' ')}
              </span>
              <br />
              <span className="quiet">OKLCh {oklchText(found.colour)}</span>
            </span>
          </div>
          <table style={{ width: '100%', borderCollapse: 'collapse', fontVariantNumeric: 'tabular-nums' }}>
            <caption className="quiet" style={{ textAlign: 'left', padding: '0 0 4px' }}>
              What each layer made of it, front first; lightness in hundredths
            </caption>
            <tbody>
              {rows.map(({ nodeId, before, after, by, text }) => (
                <tr key={nodeId} style={{ opacity: by < LEAST ? 0.5 : 1 }}>
                  <td
                    style={{
                      padding: '2px 6px 2px 0',
                      maxWidth: 112,
                      overflow: 'hidden',
                      textOverflow: 'ellipsis',
                    }}
                  >
                    <button
                      className="link"
                      style={{ padding: 0, whiteSpace: 'nowrap', textAlign: 'left' }}
                      onClick={() => setBench({ layerId: nodeId })}
                    >
                      {sheet.nodes[nodeId]?.name ?? 'gone'}
                    </button>
                  </td>
                  <td style={{ width: 40 }}>
                    <span
                      aria-hidden="true"
                      style={{
                        display: 'block',
                        height: 14,
                        background: `linear-gradient(to right, ${hexOf(before)} 50%, ${hexOf(after)} 50%)`,
                      }}
                    />
                  </td>
                  <td style={{ width: 46, textAlign: 'right' }}>{by < LEAST ? 'nothing' : text}</td>
                  <td style={{ width: 44, paddingLeft: 6 }}>
                    <span
                      aria-hidden="true"
                      style={{
                        display: 'block',
                        height: 5,
                        width: `${(100 * by) / most}%`,
                        background: 'var(--slate)',
                      }}
                    />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </section>
  )
}

/** Where on the proof a colour is read. */
export function ProbeMark({ place: [x, y] }: { readonly place: readonly [number, number] }) {
  return (
    <i
      aria-hidden="true"
      style={{
        position: 'absolute',
        left: `calc(${100 * x}% - 9px)`,
        top: `calc(${100 * y}% - 9px)`,
        width: 18,
        height: 18,
        borderRadius: '50%',
        border: '2px solid #fff',
        boxShadow: '0 0 0 1.5px #1c1815, inset 0 0 0 1.5px #1c1815',
        pointerEvents: 'none',
      }}
    />
  )
}

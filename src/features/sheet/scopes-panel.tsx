'use client'

import { useEffect, useMemo, useRef, useState } from 'react'
import { CategoryScale, Chart, Filler, LinearScale, LineElement, PointElement, type Plugin } from 'chart.js'
import { Line } from 'react-chartjs-2'
import { BINS, WAVE, type Scopes } from '@/core/sheet/scopes'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import type { Project } from '@/data/project-schema'
import { askSheet } from '@/state/sheet-sync'
import { setBench } from '@/state/view-store'

Chart.register(CategoryScale, Filler, LinearScale, LineElement, PointElement)

/** A hand must have rested this long before it is measured anew. Milliseconds. */
const REST_MS = 180

type Of = 'proof' | 'layer' | 'mask'
const OF_LABELS: Readonly<Record<Of, string>> = { proof: 'Proof', layer: 'Layer', mask: 'Mask' }

function useScopes(project: Project, of: Of, layerId: string | null): Scopes | null {
  const [scopes, setScopes] = useState<Scopes | null>(null)
  useEffect(() => {
    let isCurrent = true
    const timer = setTimeout(() => {
      void askSheet(project, (worker) => worker.scopes({ of, layerId })).then(
        (made) => isCurrent && setScopes(made),
        () => undefined,
      )
    }, REST_MS)
    return () => {
      isCurrent = false
      clearTimeout(timer)
    }
  }, [project, of, layerId])
  return scopes
}

interface ScopesPanelProps {
  readonly project: Project
  readonly layer: SheetNode | undefined
}

/** How much of the proof, a layer or its mask is how dark: as a whole, and across the picture. */
export function ScopesPanel({ project, layer }: ScopesPanelProps) {
  const [wanted, setWanted] = useState<Of>('proof')
  const of = wanted !== 'proof' && (!layer || (wanted === 'mask' && !layer.mask)) ? 'proof' : wanted
  const scopes = useScopes(project, of, of === 'proof' ? null : (layer?.id ?? null))
  return (
    <>
      <div className="inspector-head">
        <h2 className="display">Tones</h2>
        <button className="link" onClick={() => setBench({ panel: null })}>
          Close
        </button>
      </div>
      <div className="segments" role="radiogroup" aria-label="Tones of" style={{ marginBottom: 10 }}>
        {(['proof', 'layer', 'mask'] as const).map((own) => (
          <button
            key={own}
            role="radio"
            aria-checked={of === own}
            disabled={own !== 'proof' && (!layer || (own === 'mask' && !layer.mask))}
            onClick={() => setWanted(own)}
          >
            {OF_LABELS[own]}
          </button>
        ))}
      </div>
      {of !== 'proof' && <p className="quiet">Of {layer?.name}</p>}
      {scopes ? (
        <>
          <section className="section" data-testid="scopes">
            <div className="section-head">
              <span>Histogram</span>
              <span className="quiet">
                {percent(scopes.black)} black, {percent(scopes.white)} white
              </span>
            </div>
            <Histogram scopes={scopes} />
          </section>
          <section className="section">
            <div className="section-head">
              <span>Waveform</span>
              <span className="quiet">brightness, left to right</span>
            </div>
            <Waveform scopes={scopes} />
          </section>
        </>
      ) : (
        <p className="quiet" role="status">
          Measuring …
        </p>
      )}
    </>
  )
}

const percent = (share: number): string => `${(100 * share).toFixed(share > 0 && share < 0.1 ? 1 : 0)} %`

const CHANNELS = [
  { name: 'Red', line: '#b8402c', fill: '#b8402c2e' },
  { name: 'Green', line: '#4f7d43', fill: '#4f7d432e' },
  { name: 'Blue', line: '#3f6296', fill: '#3f62962e' },
  { name: 'Brightness', line: '#8a8278', fill: '#8a827822' },
] as const

const AXIS = { display: false }

function Histogram({ scopes }: { readonly scopes: Scopes }) {
  const data = useMemo(() => {
    // Ends that are heaped up would press everything else flat.
    const inner = scopes.histograms.flatMap((own) => own.slice(1, -1))
    const most = Math.max(1e-6, ...inner)
    return {
      most: most * 1.08,
      labels: Array.from({ length: BINS }, (_, i) => i),
      datasets: CHANNELS.map(({ name, line, fill }, c) => ({
        label: name,
        data: scopes.histograms[c].map((v) => Math.min(v, most * 1.08)),
        borderColor: line,
        backgroundColor: fill,
        borderWidth: 1,
        pointRadius: 0,
        fill: 'origin' as const,
      })),
    }
  }, [scopes])
  return (
    <div style={{ height: 120 }}>
      <Line
        role="img"
        aria-label={`Histogram: mean brightness ${Math.round(meanOf(scopes.histograms[3]))} of 255`}
        data={data}
        options={{
          animation: false,
          maintainAspectRatio: false,
          events: [],
          scales: { x: AXIS, y: { ...AXIS, min: 0, max: data.most } },
          plugins: { legend: { display: false }, tooltip: { enabled: false } },
        }}
      />
    </div>
  )
}

const meanOf = (list: readonly number[]): number => list.reduce((sum, v, i) => sum + v * i, 0)

/** Draws the waveform within a chart's axes. */
const wavePlugin: Plugin<'line'> = {
  id: 'wave',
  beforeDatasetsDraw(chart, _args, options) {
    const { picture } = options as { picture?: HTMLCanvasElement }
    if (!picture) return
    const { left, top, width, height } = chart.chartArea
    chart.ctx.imageSmoothingEnabled = true
    chart.ctx.drawImage(picture, left, top, width, height)
  },
}

function Waveform({ scopes }: { readonly scopes: Scopes }) {
  const chartRef = useRef<Chart<'line'> | null>(null)
  const picture = useMemo(() => {
    const canvas = document.createElement('canvas')
    canvas.width = WAVE.columns
    canvas.height = WAVE.rows
    const context = canvas.getContext('2d')
    const image = new ImageData(WAVE.columns, WAVE.rows)
    scopes.waveform.forEach((share, i) => {
      image.data.set([168, 74, 41, Math.round(255 * Math.min(1, share * 9) ** 0.6)], 4 * i)
    })
    context?.putImageData(image, 0, 0)
    return canvas
  }, [scopes])
  return (
    <div style={{ height: 132 }}>
      <Line
        ref={chartRef}
        role="img"
        aria-label="Waveform: how bright the picture is from left to right"
        data={{ labels: [0, 1], datasets: [] }}
        plugins={[wavePlugin]}
        options={
          {
            animation: false,
            maintainAspectRatio: false,
            events: [],
            scales: {
              x: { display: false },
              y: {
                min: 0,
                max: 100,
                ticks: { stepSize: 25, font: { size: 10 }, callback: (v: number) => `${v} %` },
              },
            },
            plugins: { legend: { display: false }, wave: { picture } },
          } as never
        }
      />
    </div>
  )
}

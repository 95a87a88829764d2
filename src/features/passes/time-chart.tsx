'use client'

import { BarElement, CategoryScale, Chart, LinearScale, Tooltip } from 'chart.js'
import { useEffect, useState } from 'react'
import { Bar } from 'react-chartjs-2'
import type { ProjectPass } from '@/data/project-schema'

Chart.register(BarElement, CategoryScale, LinearScale, Tooltip)

/** Height of one bar with its gap, and of the axis. */
const BAR_PX = 22
const AXIS_PX = 30

/** Where the time of the last renders went: worker seconds of every pass, the longest first. */
export function TimeChart({ passes }: { passes: readonly ProjectPass[] }) {
  const [ink, setInk] = useState({ bar: '#b4532a', text: '#333', rule: '#ccc' })
  useEffect(() => {
    const read = () => {
      const style = getComputedStyle(document.documentElement)
      Chart.defaults.font.family = getComputedStyle(document.body).fontFamily
      const value = (name: string) => style.getPropertyValue(name).trim()
      setInk({ bar: value('--clay'), text: value('--ink'), rule: value('--rule') })
    }
    read()
    const observer = new MutationObserver(read)
    observer.observe(document.documentElement, { attributes: true })
    return () => observer.disconnect()
  }, [])
  const rendered = passes
    .flatMap((pass) =>
      pass.rendered ? [{ name: pass.name, seconds: pass.rendered.seconds, rays: pass.rendered.rays }] : [],
    )
    .sort((a, b) => b.seconds - a.seconds)
  if (rendered.length === 0) return null
  const total = rendered.reduce((sum, r) => sum + r.seconds, 0)
  return (
    <section className="section" data-testid="time-chart">
      <div className="section-head">
        <span>Where the time went</span>
        <span className="quiet">{total.toFixed(1)} worker s</span>
      </div>
      <div style={{ height: rendered.length * BAR_PX + AXIS_PX }}>
        <Bar
          role="img"
          aria-label={rendered.map((r) => `${r.name} ${r.seconds.toFixed(1)} seconds`).join(', ')}
          data={{
            labels: rendered.map((r) => r.name),
            datasets: [{ data: rendered.map((r) => r.seconds), backgroundColor: ink.bar, barThickness: 12 }],
          }}
          options={{
            indexAxis: 'y',
            maintainAspectRatio: false,
            animation: false,
            plugins: {
              tooltip: {
                callbacks: {
                  label: ({ dataIndex }) => {
                    const { seconds, rays } = rendered[dataIndex]
                    return `${seconds.toFixed(2)} s, ${(rays / 1e6).toFixed(1)} million rays`
                  },
                },
              },
            },
            scales: {
              x: { ticks: { color: ink.text }, grid: { color: ink.rule } },
              y: { ticks: { color: ink.text, autoSkip: false }, grid: { display: false } },
            },
          }}
        />
      </div>
    </section>
  )
}

'use client'

import { useEffect, useRef, useState } from 'react'
import { useSnackbar } from 'notistack'
import { PICTURE_ACCEPT } from '@/core/formats/picture-kinds'
import type { ParamValues } from '@/core/params'
import { BINS, type Scopes } from '@/core/sheet/scopes'
import type { SheetEffect } from '@/core/sheet/sheet-schema'
import { activeSheet } from '@/data/active-shot'
import { loadFile } from '@/data/project-repository'
import { useProjectStore } from '@/state/project-store'
import { askSheet } from '@/state/sheet-sync'
import { endPick, useProofPick, waitForPick } from './proof-pick'

interface EffectToolsProps {
  readonly layerId: string
  readonly effect: SheetEffect
  readonly onChange: (label: string, params: ParamValues) => void
}

/** What helps to set an effect besides its parameters: measures of what goes into it, and presses on the proof. */
export function EffectTools(props: EffectToolsProps) {
  useEffect(() => endPick, [props.effect.id])
  switch (props.effect.kind) {
    case 'levels':
      return <LevelsTools {...props} />
    case 'depthBlur':
      return <FocusTools {...props} />
    case 'matchTones':
      return <MatchTools {...props} />
    default:
      return null
  }
}

/** A hand must have rested this long before it is measured anew. Milliseconds. */
const REST_MS = 180

/** How much is how dark in what goes into an effect; measured anew when what lies before it changes. */
function useInput(layerId: string, effectId: string): Scopes | null {
  const [scopes, setScopes] = useState<Scopes | null>(null)
  const sheet = useProjectStore(({ project }) => project && activeSheet(project))
  useEffect(() => {
    let isCurrent = true
    const timer = setTimeout(() => {
      const { project } = useProjectStore.getState()
      if (!project) return
      void askSheet(project, (worker) => worker.scopes({ of: 'effect', layerId, effectId })).then(
        (made) => isCurrent && setScopes(made),
        () => undefined,
      )
    }, REST_MS)
    return () => {
      isCurrent = false
      clearTimeout(timer)
    }
  }, [sheet, layerId, effectId])
  return scopes
}

const WIDTH = 258
const HEIGHT = 64

/** The tone below which a share of the picture lies, 0…1. */
function quantile(histogram: readonly number[], share: number): number {
  let sum = 0
  for (let i = 0; i < histogram.length; i++) {
    sum += histogram[i]
    if (sum >= share) return i / (histogram.length - 1)
  }
  return 1
}

const round = (v: number): number => Math.round(v * 1000) / 1000
const numberOf = (value: unknown, otherwise: number): number =>
  typeof value === 'number' ? value : otherwise

function LevelsTools({ layerId, effect, onChange }: EffectToolsProps) {
  const scopes = useInput(layerId, effect.id)
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const pick = useProofPick((s) => s.pick)
  const black = numberOf(effect.params.black, 0)
  const white = numberOf(effect.params.white, 1)
  const gamma = numberOf(effect.params.gamma, 1)
  useEffect(() => {
    const context = canvasRef.current?.getContext('2d')
    if (!context) return
    const ink = getComputedStyle(document.documentElement).getPropertyValue('--slate').trim()
    context.clearRect(0, 0, WIDTH, HEIGHT)
    if (!scopes) return
    const [, , , tones] = scopes.histograms
    // Ends that are heaped up would press everything else flat.
    const inner = tones.slice(2, -2).sort((a, b) => a - b)
    const most = Math.max(1e-6, inner[Math.floor(0.97 * inner.length)])
    context.fillStyle = ink
    for (let i = 0; i < BINS; i++) {
      const height = Math.min(1, (tones[i] / most) ** 0.6) * HEIGHT
      context.fillRect((i * WIDTH) / BINS, HEIGHT - height, WIDTH / BINS + 0.5, height)
    }
  }, [scopes])
  const ask = (what: 'black' | 'middle' | 'white') =>
    waitForPick({
      id: `${effect.id} ${what}`,
      label: `Click what is to be ${what === 'middle' ? 'middle grey' : what}`,
      take: (x, y) => void take(what, x, y),
    })
  const take = async (what: 'black' | 'middle' | 'white', x: number, y: number) => {
    const { project } = useProjectStore.getState()
    const rgb =
      project &&
      (await askSheet(project, (worker) => worker.effectInput({ layerId, effectId: effect.id, x, y })))
    if (!rgb) return
    const tone = (0.3 * rgb[0] + 0.59 * rgb[1] + 0.11 * rgb[2]) / 255
    if (what === 'black') onChange('levels black', { black: round(Math.min(tone, white - 0.01, 0.99)) })
    else if (what === 'white') onChange('levels white', { white: round(Math.max(tone, black + 0.01)) })
    else {
      // The gamma under which this tone becomes a half.
      const share = Math.min(0.98, Math.max(0.02, (tone - black) / (white - black)))
      onChange('levels gamma', { gamma: round(Math.min(5, Math.max(0.1, Math.log(share) / Math.log(0.5)))) })
    }
  }
  const marks = [
    { at: black, label: 'Black' },
    { at: black + (white - black) * 0.5 ** gamma, label: 'Middle' },
    { at: white, label: 'White' },
  ]
  return (
    <div className="levels-tools" data-testid="levels-tools">
      <div style={{ position: 'relative' }}>
        <canvas
          ref={canvasRef}
          width={WIDTH}
          height={HEIGHT}
          role="img"
          aria-label={
            scopes
              ? `Tones that go in: darkest ${Math.round(100 * quantile(scopes.histograms[3], 0.005))}, lightest ${Math.round(100 * quantile(scopes.histograms[3], 0.995))} of 100`
              : 'Tones that go in'
          }
        />
        {marks.map(({ at, label }) => (
          <i key={label} title={label} style={{ left: `${100 * Math.min(1, Math.max(0, at))}%` }} />
        ))}
      </div>
      <div className="effect-tools">
        <button
          className="link"
          disabled={!scopes}
          onClick={() => {
            if (!scopes) return
            const [, , , tones] = scopes.histograms
            const low = quantile(tones, 0.004)
            onChange('levels as far as they go', {
              black: round(Math.min(0.98, low)),
              white: round(Math.max(low + 0.02, quantile(tones, 0.996))),
            })
          }}
        >
          Fit to these
        </button>
        {(['black', 'middle', 'white'] as const).map((what) => (
          <button
            key={what}
            className="link"
            aria-pressed={pick?.id === `${effect.id} ${what}`}
            data-testid={`pick-${what}`}
            onClick={() => ask(what)}
          >
            {what === 'black' ? 'Pick black' : what}
          </button>
        ))}
      </div>
    </div>
  )
}

function FocusTools({ effect, onChange }: EffectToolsProps) {
  const pick = useProofPick((s) => s.pick)
  const { enqueueSnackbar } = useSnackbar()
  const take = async (x: number, y: number) => {
    const { project } = useProjectStore.getState()
    const map = typeof effect.params.map === 'string' ? effect.params.map : ''
    const depth =
      project && (await askSheet(project, (worker) => worker.mapAt({ map: 'depth', id: map, x, y })))
    if (depth === null)
      enqueueSnackbar('There is no depth at that place: render the depth pass.', { variant: 'warning' })
    else onChange('sharp at', { focus: Math.round(Math.min(300, Math.max(-100, 100 * depth))) })
  }
  const id = `${effect.id} focus`
  return (
    <div className="effect-tools">
      <button
        className="link"
        data-testid="pick-focus"
        aria-pressed={pick?.id === id}
        onClick={() =>
          waitForPick({ id, label: 'Click what is to be sharp', take: (x, y) => void take(x, y) })
        }
      >
        Pick what is sharp
      </button>
    </div>
  )
}

function MatchTools({ layerId, effect, onChange }: EffectToolsProps) {
  const project = useProjectStore((s) => s.project)
  const { enqueueSnackbar } = useSnackbar()
  const fileRef = useRef<HTMLInputElement>(null)
  if (!project) return null
  const sources = [...project.references, ...project.pictures].filter(({ name }) => !/\.cube$/i.test(name))
  const match = async (name: string, read: () => Promise<Uint8Array>) => {
    try {
      const bytes = await read()
      const params = await askSheet(project, (worker) =>
        worker.matchTones({ layerId, effectId: effect.id, name, bytes }),
      )
      if (params) onChange(`match tones of ${name}`, { ...params, amount: effect.params.amount })
      else enqueueSnackbar(`Nothing to match: ${name} or what goes in is clear.`, { variant: 'warning' })
    } catch (error) {
      enqueueSnackbar(error instanceof Error ? error.message : String(error), { variant: 'error' })
    }
  }
  return (
    <div className="effect-tools">
      <span className="quiet">Measure</span>
      {sources.map(({ id, name, fileId }) => (
        <button
          key={id}
          className="link"
          onClick={() => void match(name, () => loadFile(project.id, fileId))}
        >
          {name}
        </button>
      ))}
      <button className="link" data-testid="match-file" onClick={() => fileRef.current?.click()}>
        A picture from a file
      </button>
      <input
        ref={fileRef}
        type="file"
        accept={PICTURE_ACCEPT}
        hidden
        data-testid="match-input"
        onChange={(e) => {
          const file = e.target.files?.[0]
          e.target.value = ''
          if (file) void match(file.name, async () => new Uint8Array(await file.arrayBuffer()))
        }}
      />
    </div>
  )
}

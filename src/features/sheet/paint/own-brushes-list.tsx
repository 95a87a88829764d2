'use client'

import { useRef, useState } from 'react'
import { useSnackbar } from 'notistack'
import { BRUSH_DEFAULTS } from '@/core/paint/brush'
import { Sample, SMALL } from './brush-sample'
import { dropBrush, keepBrush, OWN_TIP_BRUSH, tipFromFile, useOwnBrushes, type OwnBrush } from './own-brushes'
import { brushInHand, setPaint, usePaint } from './paint-store'

/** Brushes of one's own, and what makes more of them. */
export function OwnBrushes() {
  const { enqueueSnackbar, closeSnackbar } = useSnackbar()
  const brushes = useOwnBrushes((s) => s.brushes)
  const fileRef = useRef<HTMLInputElement>(null)
  const [name, setName] = useState<string | null>(null)
  const attempt = async (action: () => Promise<void> | void) => {
    try {
      await action()
    } catch (error) {
      enqueueSnackbar(error instanceof Error ? error.message : String(error), { variant: 'error' })
    }
  }
  const take = ({ tip, seed, params }: OwnBrush) =>
    setPaint({ tip, seed, brushes: { ...usePaint.getState().brushes, [tip]: params } })
  return (
    <div className="own-brushes">
      {brushes.length > 0 && (
        <div className="tips" role="group" aria-label="Own brushes">
          {brushes.map((brush) => (
            <div key={brush.name} className="own-brush">
              <button title={`Paint with ${brush.name}`} onClick={() => take(brush)}>
                <Sample
                  brush={{ tip: brush.tip, seed: brush.seed, params: { ...brush.params, size: 34 } }}
                  size={SMALL}
                />
                <span>{brush.name}</span>
              </button>
              <button
                className="drop"
                aria-label={`Take ${brush.name} away`}
                title="Take away"
                onClick={() =>
                  void attempt(() => {
                    dropBrush(brush.name)
                    enqueueSnackbar(`${brush.name} is taken away.`, {
                      action: (key) => (
                        <button
                          className="link"
                          style={{ color: 'inherit' }}
                          onClick={() => {
                            closeSnackbar(key)
                            void attempt(() => void keepBrush(brush.name, brush))
                          }}
                        >
                          Bring it back
                        </button>
                      ),
                    })
                  })
                }
              >
                ×
              </button>
            </div>
          ))}
        </div>
      )}
      <div className="quick">
        {name === null ? (
          <button className="link" onClick={() => setName('')}>
            Keep this brush
          </button>
        ) : (
          <input
            autoFocus
            className="plain-select"
            aria-label="Name of the brush"
            placeholder="Its name, then Enter"
            value={name}
            onChange={(e) => setName(e.target.value)}
            onBlur={() => setName(null)}
            onKeyDown={(e) => {
              if (e.key === 'Escape') setName(null)
              if (e.key !== 'Enter') return
              void attempt(() => void keepBrush(name, brushInHand()))
              setName(null)
            }}
          />
        )}
        <button className="link" onClick={() => fileRef.current?.click()}>
          Tip from a picture
        </button>
        <input
          ref={fileRef}
          type="file"
          hidden
          accept="image/*"
          data-testid="tip-file"
          onChange={(e) => {
            const file = e.target.files?.[0]
            e.target.value = ''
            if (!file) return
            void attempt(async () => {
              const tip = await tipFromFile(file)
              const params = { ...BRUSH_DEFAULTS, ...OWN_TIP_BRUSH }
              keepBrush(file.name.replace(/\.[^.]+$/, ''), { tip, seed: 1, params })
              take({ name: '', tip, seed: 1, params })
            })
          }}
        />
      </div>
    </div>
  )
}

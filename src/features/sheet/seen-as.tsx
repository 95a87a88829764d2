'use client'

import { SEEN_AS, setBench, useViewStore, type SeenAs } from '@/state/view-store'

export const seenAsLabels: Readonly<Record<SeenAs, string>> = {
  plain: 'As it is',
  grey: 'In grey',
  clipped: 'Clipped tones',
  afar: 'From afar',
  protan: 'Without red cones',
  deutan: 'Without green cones',
  tritan: 'Without blue cones',
}

/**
 * What an eye without one sort of cones sees, in linear light: Machado, Oliveira and Fernandes 2009, "A physiologically-based model
 * for simulation of color vision deficiency", severity 1.
 */
const CONES = {
  protan: [0.152286, 1.052583, -0.204868, 0.114503, 0.786281, 0.099216, -0.003882, -0.048116, 1.051998],
  deutan: [0.367322, 0.860646, -0.227968, 0.280085, 0.672501, 0.047413, -0.01182, 0.04294, 0.968881],
  tritan: [1.255528, -0.076749, -0.178779, -0.078411, 0.930809, 0.147602, 0.004733, 0.691367, 0.3039],
} as const

const matrixOf = (m: readonly number[]): string =>
  [0, 3, 6].map((row) => `${m[row]} ${m[row + 1]} ${m[row + 2]} 0 0`).join(' ') + ' 0 0 0 1 0'

/** 255 of 256 steps of one value, and another at one end. */
const steps = (end: 'first' | 'last'): string =>
  Array.from({ length: 256 }, (_, i) => ((end === 'first' ? i === 0 : i === 255) ? 1 : 0)).join(' ')

/** What stands in the page for the filters to be found. */
export function SeenAsFilters() {
  return (
    <svg width="0" height="0" style={{ position: 'absolute' }} aria-hidden="true">
      {Object.entries(CONES).map(([name, matrix]) => (
        <filter key={name} id={`seen-${name}`} colorInterpolationFilters="linearRGB">
          <feColorMatrix values={matrixOf(matrix)} />
        </filter>
      ))}
      <filter id="seen-clipped" colorInterpolationFilters="sRGB">
        {/* Where all channels are at their end, their sum less two is one. */}
        <feComponentTransfer in="SourceGraphic" result="full">
          <feFuncR type="discrete" tableValues={steps('last')} />
          <feFuncG type="discrete" tableValues={steps('last')} />
          <feFuncB type="discrete" tableValues={steps('last')} />
        </feComponentTransfer>
        <feColorMatrix in="full" values="0 0 0 0 0.66 0 0 0 0 0.29 0 0 0 0 0.16 1 1 1 0 -2" result="white" />
        <feComponentTransfer in="SourceGraphic" result="none">
          <feFuncR type="discrete" tableValues={steps('first')} />
          <feFuncG type="discrete" tableValues={steps('first')} />
          <feFuncB type="discrete" tableValues={steps('first')} />
        </feComponentTransfer>
        <feColorMatrix in="none" values="0 0 0 0 0.24 0 0 0 0 0.55 0 0 0 0 0.75 1 1 1 0 -2" result="black" />
        <feMerge>
          <feMergeNode in="SourceGraphic" />
          <feMergeNode in="white" />
          <feMergeNode in="black" />
        </feMerge>
      </filter>
    </svg>
  )
}

/** Styles of the proof for a way of seeing it. */
export function seenStyle(seenAs: SeenAs, isFlipped: boolean): React.CSSProperties {
  const filter =
    seenAs === 'plain' || seenAs === 'afar'
      ? undefined
      : seenAs === 'grey'
        ? 'grayscale(1)'
        : `url(#seen-${seenAs})`
  const scale = seenAs === 'afar' ? 0.22 : 1
  return { filter, transform: `scale(${isFlipped ? -scale : scale}, ${scale})` }
}

/** Chooses how the proof is seen. */
export function SeenAsSelect({ children }: { readonly children?: React.ReactNode }) {
  const seenAs = useViewStore((s) => s.seenAs)
  const isFlipped = useViewStore((s) => s.isFlipped)
  return (
    <span
      style={{
        display: 'inline-flex',
        gap: 10,
        alignItems: 'baseline',
        marginLeft: 'auto',
        pointerEvents: 'auto',
      }}
    >
      {children}
      <label>
        Seen{' '}
        <select
          className="plain-select"
          style={{ padding: 0, borderBottomColor: 'transparent' }}
          aria-label="How the proof is seen"
          value={seenAs}
          onChange={(e) => setBench({ seenAs: e.target.value as SeenAs })}
        >
          {SEEN_AS.map((own) => (
            <option key={own} value={own}>
              {seenAsLabels[own]}
            </option>
          ))}
        </select>
      </label>
      {isFlipped && <b>flipped</b>}
    </span>
  )
}

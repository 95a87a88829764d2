'use client'

import { parseHex, srgbToLinear } from '@/core/math/colour'
import type { Page } from '@/data/project-schema'

interface SoftProofProps {
  readonly stock: NonNullable<Page['stock']>
}

export const SOFT_PROOF = 'url(#soft-proof)'

/** What stands in the page for {@link SOFT_PROOF} to be found: black becomes the ink's, white the paper's, in linear light. */
export function SoftProofFilter({ stock }: SoftProofProps) {
  const [paper, black] = [stock.paper, stock.black].map((hex) => parseHex(hex).map(srgbToLinear))
  const way = (c: number) => ({ type: 'linear' as const, slope: paper[c] - black[c], intercept: black[c] })
  return (
    <svg width="0" height="0" style={{ position: 'absolute' }} aria-hidden="true">
      <filter id="soft-proof" colorInterpolationFilters="linearRGB">
        <feComponentTransfer>
          <feFuncR {...way(0)} />
          <feFuncG {...way(1)} />
          <feFuncB {...way(2)} />
        </feComponentTransfer>
      </filter>
    </svg>
  )
}

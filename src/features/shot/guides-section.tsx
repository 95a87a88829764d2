'use client'

import { GUIDES, type Guide, type Shot } from '@/data/project-schema'
import { changeShot } from '@/state/shot-actions'

const guideLabels: Readonly<Record<Guide, string>> = {
  thirds: 'Thirds',
  centre: 'Centre',
  diagonals: 'Diagonals',
  safe: 'Safe margin',
}

/** Which lines are laid over the view. */
export function GuidesSection({ shot }: { readonly shot: Shot }) {
  const toggleGuide = (guide: Guide) =>
    changeShot('guides', (s) => {
      s.guides = s.guides.includes(guide) ? s.guides.filter((g) => g !== guide) : [...s.guides, guide]
    })
  return (
    <section className="section">
      <div className="section-head">Guides</div>
      <div className="pills">
        {GUIDES.map((guide) => (
          <button
            key={guide}
            className="pill"
            aria-pressed={shot.guides.includes(guide)}
            onClick={() => toggleGuide(guide)}
          >
            {guideLabels[guide]}
          </button>
        ))}
      </div>
    </section>
  )
}

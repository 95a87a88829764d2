'use client'

import dynamic from 'next/dynamic'
import { usePathname } from 'next/navigation'
import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { useActions } from '@/state/actions'
import { setBench, useViewStore } from '@/state/view-store'
import { isStep, STEPS } from '../steps'

const GuideReader = dynamic(() => import('./guide-reader').then((own) => own.GuideReader))

/** The page of the guide that tells of what an address shows. */
export function guidePageAt(pathname: string): string {
  const step = pathname.split('/')[3] ?? ''
  return isStep(step) ? `guide-${STEPS.indexOf(step) + 1}-${step}` : 'purposes-illustration'
}

/** The guide over what is worked on: it opens at the step that is open. */
export function GuideDialog() {
  const place = useViewStore((s) => s.guide)
  const begin = guidePageAt(usePathname())
  const close = () => setBench({ guide: null })
  useActions('General', [
    { id: 'guide', label: 'Open the guide', keys: 'F1', run: () => setBench({ guide: begin }) },
  ])
  return (
    <Dialog
      open={place !== null}
      onClose={close}
      maxWidth="lg"
      fullWidth
      className="guide-dialog"
      aria-labelledby="guide-title"
    >
      <DialogTitle id="guide-title" sx={{ display: 'flex', alignItems: 'baseline', paddingBottom: 1 }}>
        The guide
        <span className="spacer" />
        <button className="link guide-close" onClick={close}>
          Close
        </button>
      </DialogTitle>
      <DialogContent>
        <GuideReader place={place ?? begin} onPlace={(to) => setBench({ guide: to })} />
      </DialogContent>
    </Dialog>
  )
}

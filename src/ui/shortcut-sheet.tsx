'use client'

import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { actionGroups, keyLabel, useActionStore } from '@/state/actions'
import { setBench, useViewStore } from '@/state/view-store'
import { ShortcutSheetStyles } from './shortcut-sheet-styles'

/** All shortcuts that work where one is. */
export function ShortcutSheet() {
  const open = useViewStore((s) => s.shortcutsOpen)
  const offers = useActionStore((s) => s.offers)
  return (
    <Dialog
      open={open}
      onClose={() => setBench({ shortcutsOpen: false })}
      maxWidth="sm"
      fullWidth
      aria-labelledby="shortcuts-title"
    >
      <DialogTitle id="shortcuts-title">Shortcuts</DialogTitle>
      <DialogContent className="shortcut-groups">
        <ShortcutSheetStyles />
        {[...actionGroups(offers)].map(([group, actions]) => (
          <section key={group}>
            <b>{group}</b>
            {actions
              .filter((a) => a.keys)
              .map((action) => (
                <div key={action.id}>
                  <span>{action.label}</span>
                  <kbd>{keyLabel(action.keys ?? '')}</kbd>
                </div>
              ))}
          </section>
        ))}
      </DialogContent>
    </Dialog>
  )
}

'use client'

import { useEffect, type ReactNode } from 'react'
import CssBaseline from '@mui/material/CssBaseline'
import { ThemeProvider } from '@mui/material/styles'
import { SnackbarProvider } from 'notistack'
import { createKeybindingsHandler } from 'tinykeys'
import { useActionStore } from '@/state/actions'
import { CommandFinder } from './command-finder'
import { keysSleep } from './global-keys'
import { GuideDialog } from './guide/guide-dialog'
import { ShortcutSheet } from './shortcut-sheet'
import { StorageBanner } from './storage-banner'
import { theme } from './theme'

function useGlobalKeys(): void {
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (keysSleep(event)) return
      const actions = useActionStore.getState().offers.flatMap((offer) => offer.actions)
      const bindings = Object.fromEntries(
        actions.flatMap((action) =>
          action.keys
            ? [
                [
                  action.keys,
                  (e: KeyboardEvent) => {
                    e.preventDefault()
                    action.run()
                  },
                ],
              ]
            : [],
        ),
      )
      createKeybindingsHandler(bindings)(event)
    }
    window.addEventListener('keydown', onKeyDown)
    return () => window.removeEventListener('keydown', onKeyDown)
  }, [])
}

export function Providers({ children }: { children: ReactNode }) {
  useGlobalKeys()
  return (
    <ThemeProvider theme={theme} defaultMode="light">
      <CssBaseline />
      <SnackbarProvider
        maxSnack={3}
        autoHideDuration={6000}
        anchorOrigin={{ vertical: 'top', horizontal: 'center' }}
      >
        <StorageBanner />
        {children}
        <CommandFinder />
        <ShortcutSheet />
        <GuideDialog />
      </SnackbarProvider>
    </ThemeProvider>
  )
}

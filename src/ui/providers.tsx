'use client'

import { useEffect, type ReactNode } from 'react'
import { ThemeProvider } from '@mui/material/styles'
import { SnackbarProvider } from 'notistack'
import { createKeybindingsHandler } from 'tinykeys'
import { useActionStore } from '@/state/actions'
import { CommandFinder } from './command-finder'
import { ShortcutSheet } from './shortcut-sheet'
import { theme } from './theme'

/** Typing in a field is not a shortcut, unless it is one with Ctrl/Cmd that the field has no use for. */
const typing = (event: KeyboardEvent): boolean => {
  const target = event.target
  if (!(target instanceof HTMLElement)) return false
  // A dialog has the keyboard to itself.
  if (target.closest('[role=dialog]')) return true
  const field = target.matches(
    'input:not([type=range]):not([type=checkbox]):not([type=color]), textarea, select',
  )
  return field && !((event.ctrlKey || event.metaKey) && !['z', 'Z', 'a', 'c', 'v', 'x'].includes(event.key))
}

function useGlobalKeys(): void {
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (typing(event)) return
      const actions = Object.values(useActionStore.getState().groups).flat()
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
      <SnackbarProvider
        maxSnack={3}
        autoHideDuration={6000}
        anchorOrigin={{ vertical: 'top', horizontal: 'center' }}
      >
        {children}
        <CommandFinder />
        <ShortcutSheet />
      </SnackbarProvider>
    </ThemeProvider>
  )
}

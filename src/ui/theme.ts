'use client'

import { createTheme } from '@mui/material/styles'
import { BENCH_COLOURS } from './colours'
import { pieces } from './pieces/pieces'

const { light, dark } = BENCH_COLOURS
const serif = '"Fraunces Variable", Georgia, serif'
const sans = '"Instrument Sans Variable", system-ui, sans-serif'

/** The look of docs and mock: a printmaker's bench by day and by night. */
export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-bench' },
  colorSchemes: {
    light: {
      palette: {
        primary: { main: light.clay, contrastText: '#fffaf4' },
        secondary: { main: light.slate, contrastText: light.raised },
        background: { default: light.paper, paper: light.raised },
        text: { primary: light.ink, secondary: light['ink-2'], disabled: '#756c60' },
        divider: light.rule,
        error: { main: '#9c2f1d' },
      },
    },
    dark: {
      palette: {
        primary: { main: dark.clay, contrastText: dark.paper },
        secondary: { main: dark.slate, contrastText: dark.paper },
        background: { default: dark.paper, paper: dark.raised },
        text: { primary: dark.ink, secondary: dark['ink-2'], disabled: dark['ink-3'] },
        divider: dark.rule,
        error: { main: '#f0917c' },
      },
    },
  },
  typography: {
    fontFamily: sans,
    fontSize: 13,
    htmlFontSize: 16,
    button: { textTransform: 'none', fontWeight: 600 },
  },
  shape: { borderRadius: 6 },
  transitions: {
    duration: {
      shortest: 120,
      shorter: 140,
      short: 160,
      standard: 180,
      complex: 180,
      enteringScreen: 160,
      leavingScreen: 120,
    },
  },
  components: {
    MuiCssBaseline: { styleOverrides: pieces },
    MuiDialogTitle: { styleOverrides: { root: { fontFamily: serif, fontWeight: 600 } } },
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: {
      defaultProps: { size: 'small', disableElevation: true },
      styleOverrides: { root: { minWidth: 0, paddingInline: 12 } },
    },
    MuiTooltip: { defaultProps: { enterDelay: 500, arrow: true } },
    MuiSelect: { defaultProps: { size: 'small' }, styleOverrides: { select: { paddingBlock: 5 } } },
    MuiTextField: { defaultProps: { size: 'small' } },
    MuiDialog: { defaultProps: { transitionDuration: 140 } },
    MuiSlider: { defaultProps: { size: 'small', color: 'secondary' } },
  },
})

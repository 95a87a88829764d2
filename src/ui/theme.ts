'use client'

import { createTheme } from '@mui/material/styles'

const sans = '"Instrument Sans Variable", system-ui, sans-serif'

/** The look of docs and mock: a printmaker's bench by day and by night. */
export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-bench' },
  colorSchemes: {
    light: {
      palette: {
        primary: { main: '#a84a29', contrastText: '#fffaf4' },
        secondary: { main: '#3e5c66', contrastText: '#faf7f1' },
        background: { default: '#f3efe7', paper: '#faf7f1' },
        text: { primary: '#26221d', secondary: '#4d463c', disabled: '#756c60' },
        divider: '#ddd5c6',
        error: { main: '#9c2f1d' },
      },
    },
    dark: {
      palette: {
        primary: { main: '#d98a66', contrastText: '#1f1d1a' },
        secondary: { main: '#8fb0ba', contrastText: '#1f1d1a' },
        background: { default: '#1f1d1a', paper: '#292622' },
        text: { primary: '#ece6da', secondary: '#c9c0b1', disabled: '#a39a8b' },
        divider: '#3b3731',
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

import { createTheme } from '@mui/material/styles';
import { DARK, LIGHT, type Sheet } from './tokens.js';

export const WORDS = "'Barlow', sans-serif";

const palette = (s: Sheet) => ({
  primary: { main: s.accent, contrastText: s.onAccent },
  error: { main: s.danger },
  warning: { main: s.warn },
  success: { main: s.ok },
  info: { main: s.mandatory },
  text: { primary: s.ink, secondary: s.ink2, disabled: s.ink3 },
  divider: s.rule,
  background: { default: s.paper, paper: s.sheet },
});

/** MUI in Loka's look: flat, hairlines, small radius, no shadows. */
export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-sheet' },
  colorSchemes: { light: { palette: palette(LIGHT) }, dark: { palette: palette(DARK) } },
  shape: { borderRadius: 3 },
  typography: { fontFamily: WORDS, fontSize: 13, button: { textTransform: 'none', fontWeight: 600 } },
  shadows: Array(25).fill('none') as never,
  components: {
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: {
      defaultProps: { disableElevation: true, size: 'small' },
      styleOverrides: { root: { minWidth: 0, padding: '5px 12px', lineHeight: 1.5 } },
    },
    MuiTextField: {
      defaultProps: { size: 'small', fullWidth: true, slotProps: { inputLabel: { shrink: true } } },
    },
    MuiSelect: { defaultProps: { size: 'small' } },
    MuiPaper: {
      styleOverrides: { root: { backgroundImage: 'none', border: '1px solid var(--strong-rule)' } },
    },
    MuiTooltip: {
      styleOverrides: { tooltip: { fontSize: 12, backgroundColor: 'var(--ink)', color: 'var(--paper)' } },
    },
    MuiDialogTitle: { styleOverrides: { root: { fontSize: 16, fontWeight: 600, paddingBottom: 4 } } },
    MuiFormHelperText: { styleOverrides: { root: { marginLeft: 0 } } },
  },
});

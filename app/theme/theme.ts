import { createTheme } from '@mui/material/styles';
import { DUSK, LIMESTONE } from './palette';

const TITLE_FONT = '"Bricolage Grotesque Variable", sans-serif';

function scheme(colours: Record<keyof typeof DUSK, string>) {
  return {
    palette: {
      background: { default: colours.ground, paper: colours.surface },
      text: { primary: colours.text, secondary: colours.quiet },
      divider: colours.line,
      primary: { main: colours.glacier, contrastText: colours.onAccent },
      warning: { main: colours.larch, contrastText: colours.onAccent },
      error: { main: colours.rose, contrastText: colours.onAccent },
      success: { main: colours.moss, contrastText: colours.onAccent },
    },
  };
}

export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-theme' },
  colorSchemes: { dark: scheme(DUSK), light: scheme(LIMESTONE) },
  defaultColorScheme: 'dark',
  shape: { borderRadius: 8 },
  typography: {
    fontFamily: '"Hanken Grotesk Variable", sans-serif',
    fontSize: 13,
    h1: { fontFamily: TITLE_FONT, fontSize: 20, fontWeight: 700 },
    h2: { fontFamily: TITLE_FONT, fontSize: 17, fontWeight: 650 },
    h3: { fontSize: 13, fontWeight: 600, color: 'var(--quiet)' },
    button: { textTransform: 'none', fontWeight: 560, fontSize: 13.5 },
  },
  components: {
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: {
      defaultProps: { disableElevation: true, size: 'small', color: 'inherit' },
      styleOverrides: {
        root: { minHeight: 32, padding: '4px 12px', backgroundColor: 'var(--raised)', whiteSpace: 'nowrap' },
        sizeSmall: { fontSize: 13.5 },
      },
    },
    MuiIconButton: {
      defaultProps: { size: 'small', color: 'inherit' },
      // WCAG 2.2, 2.5.8: nothing to press is smaller than 24 × 24.
      styleOverrides: { root: { minWidth: 26, minHeight: 26 } },
    },
    MuiTextField: { defaultProps: { size: 'small', fullWidth: true } },
    MuiSelect: { defaultProps: { size: 'small' } },
    MuiTooltip: { defaultProps: { enterDelay: 400, arrow: true } },
    MuiMenu: { defaultProps: { transitionDuration: 120 } },
    MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
  },
});

/** The look: paper-towel ground, near-black green ink, the amber of fresh oil for the next action. Day and night. */
import { createTheme, type Theme } from '@mui/material/styles';

export type Tones = {
  paper: string;
  sheet: string;
  pan: string;
  tray: string;
  line: string;
  ink: string;
  soft: string;
  amber: string;
  amberDark: string;
  amberInk: string;
  amberText: string;
  red: string;
  redWash: string;
  amberWash: string;
  spine: string;
  spineInk: string;
  glass: string;
  steel: string;
};

declare module '@mui/material/styles' {
  interface Theme {
    tones: Tones;
  }
  interface ThemeOptions {
    tones?: Tones;
  }
}

const DAY: Tones = {
  paper: '#F7F4EB',
  sheet: '#FFFFFF',
  pan: '#EFE9DA',
  tray: '#E4DDC9',
  line: '#D8D0BC',
  ink: '#18221F',
  soft: '#565D58',
  amber: '#E2A33A',
  amberDark: '#D2922A',
  amberInk: '#18221F',
  amberText: '#7A4500',
  red: '#A11A1A',
  redWash: '#F4D9D3',
  amberWash: '#FBEFD6',
  spine: '#18221F',
  spineInk: '#F1ECDD',
  glass: '#FFFFFF',
  steel: '#C9C3B2',
};
const NIGHT: Tones = {
  paper: '#131917',
  sheet: '#1C2421',
  pan: '#19201D',
  tray: '#232C28',
  line: '#39443F',
  ink: '#F0EBDC',
  soft: '#B3BAB2',
  amber: '#E9B04A',
  amberDark: '#F4C46E',
  amberInk: '#14100A',
  amberText: '#F0BE68',
  red: '#FF9686',
  redWash: '#3E2220',
  amberWash: '#332A17',
  spine: '#0B0F0D',
  spineInk: '#E8E2D2',
  glass: '#2A332F',
  steel: '#6B736C',
};

export const FIGURES = '"Barlow Condensed", "Arial Narrow", sans-serif';
const TEXT = '"Atkinson Hyperlegible Next", Verdana, sans-serif';

/** On paper: what is read, without what is pressed; nothing cropped, no heading alone at the foot of a page. */
const PAPER = {
  body: { background: 'none' },
  'button, form, input, textarea, select, [role="dialog"], [role="tooltip"]': { display: 'none !important' },
  '.MuiButton-root': { display: 'none !important' },
  'main, main *': { overflow: 'visible !important' },
  'h1, h2, h3, h4': { breakAfter: 'avoid' },
  'tr, article, li, figure, svg, img': { breakInside: 'avoid' },
  'a, a *': { textDecoration: 'none !important' },
  // one thing alone, such as a link that is handed over
  'body:has([data-alone]) *': { visibility: 'hidden' },
  '[data-alone], [data-alone] *': { visibility: 'visible !important' },
  '[data-alone]': { position: 'absolute', top: 0, left: 0, right: 0 },
};

export function makeTheme(mode: 'day' | 'night', large = false): Theme {
  const tones = mode === 'day' ? DAY : NIGHT;
  const head = { fontFamily: FIGURES, fontWeight: 600, lineHeight: 1.12, letterSpacing: 0 };
  return createTheme({
    tones,
    palette: {
      mode: mode === 'day' ? 'light' : 'dark',
      primary: { main: tones.amber, dark: tones.amberDark, contrastText: tones.amberInk },
      secondary: { main: tones.ink, contrastText: tones.paper },
      error: { main: tones.red },
      background: { default: tones.paper, paper: tones.sheet },
      text: { primary: tones.ink, secondary: tones.soft },
      divider: tones.line,
    },
    shape: { borderRadius: 10 },
    shadows: Array(25).fill('none') as unknown as Theme['shadows'],
    typography: {
      fontFamily: TEXT,
      fontSize: 15,
      h1: { ...head, fontSize: '2.1rem' },
      h2: { ...head, fontSize: '1.6rem' },
      h3: { ...head, fontSize: '1.3rem' },
      h4: { ...head, fontSize: '1.1rem' },
      button: { fontFamily: FIGURES, fontWeight: 600, fontSize: '1.15rem', textTransform: 'none' },
      body1: { fontSize: '1rem', lineHeight: 1.45 },
      body2: { fontSize: '0.9rem', lineHeight: 1.4 },
    },
    components: {
      MuiCssBaseline: {
        styleOverrides: {
          html: { fontSize: large ? '118.75%' : '100%' },
          body: { fontVariantNumeric: 'tabular-nums' },
          a: { color: 'inherit', textUnderlineOffset: '0.18em' },
          '@page': { margin: '12mm' },
          '@media print': PAPER,
          '*:focus-visible': { outline: `3px solid ${tones.amberText}`, outlineOffset: 2 },
        },
      },
      MuiButtonBase: { defaultProps: { disableRipple: true } },
      MuiButton: {
        defaultProps: { disableElevation: true },
        styleOverrides: {
          root: { borderRadius: 10, padding: '8px 16px', minHeight: 44, lineHeight: 1.15 },
          outlined: { borderColor: tones.ink, borderWidth: 2, color: tones.ink, '&:hover': { borderWidth: 2, background: tones.pan } },
          text: { color: tones.ink, textDecoration: 'underline', textUnderlineOffset: '0.2em' },
        },
      },
      MuiOutlinedInput: { styleOverrides: { root: { background: tones.sheet, '& fieldset': { borderColor: tones.soft, borderWidth: 1.5 } } } },
      MuiInputLabel: { styleOverrides: { root: { color: tones.soft, '&.Mui-focused': { color: tones.ink } } } },
      MuiTableCell: { styleOverrides: { root: { padding: 0, border: 0, font: 'inherit', color: 'inherit' }, head: { fontWeight: 700 } } }, // each table says the rest
      MuiTable: { styleOverrides: { root: { width: 'auto' } } },
      MuiTextField: { defaultProps: { size: 'small' } },
      MuiDialog: { styleOverrides: { paper: { border: `2px solid ${tones.ink}`, backgroundImage: 'none' } } },
      MuiCheckbox: { styleOverrides: { root: { color: tones.ink, '&.Mui-checked': { color: tones.ink } } } },
    },
  });
}

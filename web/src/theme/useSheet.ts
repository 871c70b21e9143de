import { useColorScheme } from '@mui/material/styles';
import { DARK, LIGHT, SERIES, SERIES_DARK, type Sheet } from './tokens.js';

/** The sheet in use, for drawings that cannot refer to CSS custom properties; `series` are the colours of lines. */
export function useSheet(): { sheet: Sheet; series: string[] } {
  const { colorScheme } = useColorScheme();
  return colorScheme === 'dark' ? { sheet: DARK, series: SERIES_DARK } : { sheet: LIGHT, series: SERIES };
}

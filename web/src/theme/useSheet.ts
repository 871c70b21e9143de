import { useColorScheme } from '@mui/material/styles';
import { FLOWS, FLOWS_DARK, type FlowColours } from './flows.js';
import { DARK, LIGHT, SERIES, SERIES_DARK, type Sheet } from './tokens.js';

/**
 * The sheet in use, for drawings that cannot refer to CSS custom properties; `series` are the colours of lines, `flows` those
 * of sources and uses.
 */
export function useSheet(): { sheet: Sheet; series: string[]; flows: FlowColours } {
  const { colorScheme } = useColorScheme();
  return colorScheme === 'dark'
    ? { sheet: DARK, series: SERIES_DARK, flows: FLOWS_DARK }
    : { sheet: LIGHT, series: SERIES, flows: FLOWS };
}

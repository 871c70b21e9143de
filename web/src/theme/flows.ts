import type { Purpose } from '@loka/core/installation';

/** Colours of sources, uses and purposes; Loka's own, legible to the colour-blind by lightness as well as by hue. */
export interface FlowColours {
  supply: string;
  roof: string;
  storage: string;
  /** Outlines are filled with these: what goes back, what charges. */
  supplyTaking: string;
  storageTaking: string;
  use: string;
  uncertain: string;
  purposes: Record<Purpose | 'none', string>;
}

export const FLOWS: FlowColours = {
  supply: '#46586A',
  roof: '#D3B441',
  storage: '#A56E9B',
  supplyTaking: '#DEE2E3',
  storageTaking: '#EBDDE5',
  use: '#C6BBA2',
  uncertain: '#ECE5D6',
  purposes: {
    cooking: '#A59478',
    heating: '#DDB9A8',
    'hot-water': '#B9705A',
    cooling: '#4A6F86',
    lighting: '#FBF8F1',
    drives: '#727750',
    ventilation: '#A9BFA6',
    office: '#CFC7D3',
    vehicle: '#45485A',
    washing: '#7FA9B3',
    roof: '#D3B441',
    storage: '#EBDDE5',
    other: '#BFB7A3',
    none: '#BFB7A3',
  },
};

export const FLOWS_DARK: FlowColours = {
  supply: '#8397A9',
  roof: '#D3B441',
  storage: '#B98BB0',
  supplyTaking: '#2B333A',
  storageTaking: '#3A2F38',
  use: '#6E6857',
  uncertain: '#2E2C26',
  purposes: {
    cooking: '#A59478',
    heating: '#DDB9A8',
    'hot-water': '#C4806A',
    cooling: '#6F97B0',
    lighting: '#1E2328',
    drives: '#9AA06F',
    ventilation: '#A9BFA6',
    office: '#8E8496',
    vehicle: '#7C80A0',
    washing: '#7FA9B3',
    roof: '#D3B441',
    storage: '#5A4654',
    other: '#7C8388',
    none: '#7C8388',
  },
};

import type { Purpose } from '@loka/core/installation';

/** What places are for, as it stands on screens. */
export const PURPOSE_WORDS: Record<Purpose, string> = {
  cooking: 'Cooking',
  heating: 'Heating',
  'hot-water': 'Hot water',
  cooling: 'Cooling',
  lighting: 'Lighting',
  drives: 'Drives',
  ventilation: 'Ventilation',
  office: 'Office',
  vehicle: 'Vehicle',
  washing: 'Washing',
  roof: 'Generation',
  storage: 'Storage',
  other: 'Other',
};

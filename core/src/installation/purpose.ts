import type { Phase, Quantity } from '../quantities/index.js';

/** What a circuit or a load is for. */
export const PURPOSES = [
  'cooking',
  'heating',
  'hot-water',
  'cooling',
  'lighting',
  'drives',
  'ventilation',
  'office',
  'vehicle',
  'washing',
  'roof',
  'storage',
  'other',
] as const;
export type Purpose = (typeof PURPOSES)[number];

/** How such places are called (trade). The first that fits is proposed. */
const BY_NAME: readonly [RegExp, Purpose][] = [
  [/heat pump|heating|radiator|floor heat|boiler(?! pump)|defrost|convector|stove/i, 'heating'],
  [/hot.?water|cylinder|immersion|instantaneous|dhw/i, 'hot-water'],
  [
    /\b(oven|hob|cooker|range|grill|fryer|espresso|coffee|kettle|prover|microwave|kitchen|toaster)/i,
    'cooking',
  ],
  [/cold|fridge|freez|chill|refriger|air.?con|compressor|cooling|display counter|split unit/i, 'cooling'],
  [/light|lamp|luminaire/i, 'lighting'],
  [/\bfan\b|extract|ventilat|air handling|\bahu\b|hood/i, 'ventilation'],
  [/dish|wash|laundry|dryer|tumble/i, 'washing'],
  [/\bvan\b|\bev\b|car\b|charg(er|ing)|wall ?box|vehicle/i, 'vehicle'],
  [/battery|storage\b|accumulator/i, 'storage'],
  [/\bpv\b|photovoltaic|solar|roof|inverter/i, 'roof'],
  [/mixer|motor|pump|lathe|saw|drive|lift|conveyor|press|machine/i, 'drives'],
  [/office|network|server|\bit\b|computer|desk|router|cabinet|printer|socket/i, 'office'],
];

/**
 * What a place is proposed to be for: by what it reads (only a storage has a state of charge), by its name, or by that of the place that it
 * hangs on; null where neither tells.
 * @param names its own name first, then those above it that are circuits
 */
export function proposedPurpose(
  names: readonly string[],
  values: readonly { quantity: Quantity; phase: Phase | null }[] = [],
): Purpose | null {
  const [own] = names;
  const byOwn = own === undefined ? null : byName(own);
  if (byOwn === null && values.some((v) => v.quantity === 'state-of-charge')) return 'storage';
  for (const name of names) {
    const purpose = byName(name);
    if (purpose) return purpose;
  }
  return null;
}

const byName = (name: string): Purpose | null => BY_NAME.find(([form]) => form.test(name))?.[1] ?? null;

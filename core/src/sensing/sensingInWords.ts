import type { HallSignal, Sensing, Transducer } from './sensing.js';

export const TRANSDUCER_WORDS: Record<Transducer, string> = {
  direct: 'The current passes through the meter',
  'current-transformer': 'Current transformer or clamp',
  'voltage-clamp': 'Clamp with a voltage output',
  hall: 'Hall sensor',
  shunt: 'Shunt',
  'voltage-transformer': 'Voltage transformer or divider',
};

export const SIGNAL_WORDS: Record<HallSignal, string> = {
  '4-20': '4–20 mA',
  '0-20': '0–20 mA',
  '±20': '±20 mA',
};

/** What the ratio stands for, by what it is. */
export const RATIO_WORDS: Record<Transducer | 'none', string> = {
  none: 'Ratio that the device does not know',
  direct: 'Ratio that the device does not know',
  'current-transformer': 'Ratio that the device does not know (100 A : 50 mA is 2000)',
  'voltage-clamp': 'Amperes for a volt (100 A : 0.333 V is 300.3)',
  hall: 'Amperes at the end of the signal',
  shunt: 'Amperes for a volt (50 A : 75 mV is 666.7)',
  'voltage-transformer': 'Volts for a volt',
};

/** "Clamp, 100 A, class 1, 2 turns, ratio 2000, 22 Ω, arrow away from the load" */
export function sensingInWords(sensing: Sensing): string {
  const { kind, turns, ratio, burden, reversed, ratedCurrent, accuracyClass, signal } = sensing;
  const parts = [
    kind ? TRANSDUCER_WORDS[kind] : '',
    ratedCurrent === null ? '' : `${ratedCurrent} A`,
    accuracyClass === null ? '' : `class ${accuracyClass}`,
    signal === null ? '' : SIGNAL_WORDS[signal],
    turns === 1 ? '' : `${turns} turns`,
    ratio === 1 ? '' : `ratio ${Number(ratio.toPrecision(6))}`,
    burden === null ? '' : `${burden} Ω`,
    reversed ? 'arrow away from the load' : '',
  ].filter(Boolean);
  return parts.length === 0 ? 'One turn, arrow to the load' : parts.join(', ');
}

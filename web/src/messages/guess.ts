import { instantIn, pointerOf } from '@loka/core/messages';
import { quantityInfo, type Quantity } from '@loka/core/quantities';
import { leavesOf } from './topicTree.js';

/** Words by which a member of a payload is usually called, in any spelling of the trade's own terms. */
const WORDS: [RegExp, Quantity, string][] = [
  [/power.?factor|(^|\W)pf$|cos.?phi|factor$/i, 'power-factor', ''],
  [/volt/i, 'voltage', 'V'],
  [/milliamp|(^|\W)ma$/i, 'current', 'mA'],
  [/amp|current|(^|\W)irms$/i, 'current', 'A'],
  [/kwh/i, 'energy-import', 'kWh'],
  [/(^|\W)mwh$/i, 'energy-import', 'MWh'],
  [/energy|(^|\W)wh$|total/i, 'energy-import', 'Wh'],
  [/(^|\W)kw$/i, 'active-power', 'kW'],
  [/power|watt|(^|\W)w$/i, 'active-power', 'W'],
  [/freq|(^|\W)hz$|hertz/i, 'frequency', 'Hz'],
  [/temp|celsius/i, 'temperature', '°C'],
  [/charge|soc$/i, 'state-of-charge', '%'],
  [/relay|contact|closed|switch|state/i, 'contact-state', ''],
];

/** What a value most likely is, by its name and its kind: a suggestion that the person sees and can change. */
export function guessQuantity(name: string, value: unknown): { quantity: Quantity; unit: string } {
  if (typeof value === 'boolean') return { quantity: 'contact-state', unit: '' };
  const words = name.replace(/[_-]+/g, ' ');
  const found = WORDS.find(([pattern]) => pattern.test(words));
  const quantity = found?.[1] ?? 'other';
  return { quantity, unit: found?.[2] ?? quantityInfo(quantity).unit };
}

/** Words of which everybody knows which of the two is closed. */
const CONTACT_WORDS: [closed: string, open: string][] = [
  ['on', 'off'],
  ['closed', 'open'],
  ['close', 'open'],
  ['true', 'false'],
  ['yes', 'no'],
];

/**
 * The words for closed and open, where a word that came says which of the two it is; in its own spelling. Empty where it does
 * not: a wrong guess would show a contact the wrong way round.
 */
export function contactWords(came: string): { on: string; off: string } {
  const word = came.trim().toLowerCase();
  const pair = CONTACT_WORDS.find((words) => words.includes(word));
  if (!pair) return { on: '', off: '' };
  const spelt = (other: string): string =>
    other === word
      ? came
      : came === came.toUpperCase()
        ? other.toUpperCase()
        : came.charAt(0) === came.charAt(0).toUpperCase()
          ? other.charAt(0).toUpperCase() + other.slice(1)
          : other;
  return { on: spelt(pair[0]), off: spelt(pair[1]) };
}

/** An instant that is that of a reading is near the time at which it came, ms. */
const NEAR = 86_400_000;

/** The pointer to a member of a payload that holds the instant of the reading; '' when none does. */
export function timeIn(payload: string, arrived: number): string {
  const leaf = leavesOf(payload)?.find(({ value }) => {
    // Small numbers are no seconds since 1970, whatever instant they would be.
    const t =
      typeof value === 'string' || (typeof value === 'number' && value > 1e8) ? instantIn(value) : null;
    return t !== null && Math.abs(t - arrived) < NEAR;
  });
  return leaf ? pointerOf(leaf.steps) : '';
}

/** "Mains volts" from /mains/volts, or from the last levels of a topic. */
export function nameFrom(steps: readonly string[], topic: string): string {
  const words = steps.length > 0 ? steps : topic.split('/').slice(-1);
  const text = words.join(' ').replace(/[_-]+/g, ' ').trim();
  return (text.charAt(0).toUpperCase() + text.slice(1)).slice(0, 60) || 'Value';
}

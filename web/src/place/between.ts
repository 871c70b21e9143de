import type { EnergySource, NodeEnergy } from '@loka/contract/energy';
import type { Site } from '@loka/contract/site';
import { printNumber } from '@loka/core/formats';
import { siteClock, type TimeSpan } from '@loka/core/time';
import { amount, lasting, number, type Part, type Sentence } from '../profile/parts.js';
import { durationInWords } from '../shared/duration.js';

const HOUR = 3_600_000;
/** How an energy between two instants comes about (docs/decisions/0003 and 0004). */
const HOW: Record<EnergySource, string> = {
  counter: 'by its counter, what was counted across an instant divided evenly',
  power: 'from its power: a reading counts until the next one, for two and a half intervals at most',
};

/**
 * What flowed between two instants, and how that was computed. Null where nothing tells.
 * @param now UTC ms: of a span that goes on nothing is known beyond it
 */
export function betweenInWords(
  energy: NodeEnergy,
  { start, end }: TimeSpan,
  now: number,
  site: Pick<Site, 'currency' | 'price' | 'timeZone'>,
): Sentence | null {
  const { net, source, coverage, other } = energy;
  const last = Math.min(end, now);
  const known = coverage * (last - start);
  if (net === null || source === null || !(known > 0)) return null;
  const [into, out] = [energy.import ?? 0, energy.export ?? 0];
  const says: Part[] = [...clocks(site.timeZone, start, last), ', ', ...lasting(last - start), ': '];
  if (into > 0 || out <= 0) says.push('took ', number(into, 'Wh'));
  if (into > 0 && site.price !== null) says.push(` (${amount((into / 1000) * site.price, site)})`);
  if (out > 0) says.push(into > 0 ? ', gave ' : 'gave ', number(out, 'Wh'));
  says.push('; mean ', number((net * HOUR) / known, 'W'), '.');
  const notes = [HOW[source]];
  if (other?.net != null) {
    const { digits, unit } = printNumber(other.net, 'Wh');
    notes.push(`its ${other.source} says ${digits} ${unit}${out > 0 ? ' net' : ''}`);
  }
  if (coverage < 0.995) notes.push(`${durationInWords(known)} of it were read`);
  return { says, known: notes.join('; ') };
}

function clocks(zone: string, start: number, end: number): Part[] {
  const [from, to] = [start, end].map((t) => siteClock(zone, t, 'ccc d LLL'));
  const [since, until] = [start, end].map((t) => siteClock(zone, t, 'HH:mm:ss'));
  return [`${from} ${since} to ${to === from ? '' : `${to} `}${until}`];
}

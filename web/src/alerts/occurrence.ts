import type { Alert } from '@loka/contract/alerts';
import { siteClock } from '@loka/core/time';

/** What was the matter, ready to stand before something else on its line. */
export const conditionOf = ({ condition }: Pick<Alert, 'condition'>): string => condition.replace(/\.$/, '');

/** When it was so: "since 28 Nov 10:22", or "27 Nov 06:35 to 06:38" once it is over. @param clock the format of the time of day */
export function whenOf(
  { raisedAt, returnedAt }: Pick<Alert, 'raisedAt' | 'returnedAt'>,
  zone: string,
  clock: 'HH:mm' | 'HH:mm:ss',
): string {
  const day = (t: number) => siteClock(zone, t, 'd LLL');
  const from = `${day(raisedAt)} ${siteClock(zone, raisedAt, clock)}`;
  if (returnedAt === null) return `since ${from}`;
  const to = siteClock(zone, returnedAt, clock);
  return `${from} to ${day(returnedAt) === day(raisedAt) ? to : `${day(returnedAt)} ${to}`}`;
}

import type { PlaceProfile } from '@loka/contract/profile';
import type { Site } from '@loka/contract/site';
import { days, demand, energy, month } from './energyFindings.js';
import type { Finding } from './finding.js';
import { levels, standby } from './levelFindings.js';
import { drift, kinds, recurring, runs, unusual } from './runFindings.js';

/** Of what only counts less can be said. */
const COUNTED: Finding = {
  of: 'levels',
  says: ['Its meter only counts energy.'],
  known: 'told by quarter-hours: nothing can be said about levels, runs and peaks',
};

/** All that can be said of a load over a period, the plainest first. */
export function findingsOf(
  profile: PlaceProfile,
  site: Pick<Site, 'currency' | 'price' | 'carbon' | 'timeZone'>,
  now: number,
): Finding[] {
  if (!profile.duration) return [];
  return [
    profile.source === 'counter' ? COUNTED : levels(profile),
    ...standby(profile, site),
    ...runs(profile),
    ...kinds(profile, site),
    ...unusual(profile, site),
    ...drift(profile),
    ...recurring(profile, site, now),
    ...days(profile),
    ...demand(profile, site),
    ...energy(profile, site),
    ...month(profile, site),
  ];
}

import type { AuditEntry } from './health.js';

/** What a change was made to, where the address of its request says so. */
export type ChangedKind =
  'place' | 'link' | 'device' | 'map' | 'point' | 'switch' | 'dashboard' | 'virtual meter';

export interface ChangeInWords {
  /** "Step test started". */
  words: string;
  kind: ChangedKind | null;
  id: number | null;
}

/** Requests that change something, in words: method, address, words, and what the first number of the address counts. */
const WORDS: readonly (readonly [string, string, string, ChangedKind?])[] = [
  ['PUT', '/site', 'Site settings changed'],
  ['POST', '/jobs/#/cancel', 'Work cancelled'],

  ['POST', '/installation', 'Place added'],
  ['PUT', '/installation/#', 'Place changed', 'place'],
  ['DELETE', '/installation/#', 'Place removed', 'place'],
  ['POST', '/plans', 'Plan added'],
  ['PUT', '/plans/#', 'Plan changed'],
  ['DELETE', '/plans/#', 'Plan removed'],
  ['POST', '/pictures', 'Picture added'],
  ['DELETE', '/pictures/#', 'Picture removed'],
  ['POST', '/comments', 'Comment added'],
  ['PUT', '/comments/#', 'Comment changed'],
  ['DELETE', '/comments/#', 'Comment removed'],

  ['POST', '/links', 'Link added'],
  ['PUT', '/links/#', 'Link changed', 'link'],
  ['DELETE', '/links/#', 'Link removed', 'link'],
  ['POST', '/links/#/another', 'Link to another address added', 'link'],
  ['POST', '/links/#/token', 'New token for posting readings', 'link'],
  ['POST', '/searches', 'Search for devices started'],
  ['POST', '/searches/#/cancel', 'Search for devices cancelled'],
  ['POST', '/searches/add', 'Found devices added'],
  ['POST', '/devices', 'Device added'],
  ['POST', '/devices/sunspec', 'Device added from the models it lists'],
  ['POST', '/devices/batch', 'Devices added'],
  ['POST', '/devices/batch/take-back', 'Added devices taken back'],
  ['POST', '/devices/#/copy-settings', 'Reading settings copied to other devices', 'device'],
  ['PUT', '/devices/settings', 'Reading settings of devices changed'],
  ['PUT', '/devices/#', 'Device changed', 'device'],
  ['DELETE', '/devices/#', 'Device removed', 'device'],
  ['POST', '/devices/#/restore', 'Device restored', 'device'],
  ['PUT', '/devices/#/assignment', 'Device assigned to a place', 'device'],
  ['PUT', '/points/assignments', 'Points assigned to places'],
  ['PUT', '/points/#/assignment', 'Point assigned to a place', 'point'],
  ['POST', '/points/#/send', 'Command sent', 'point'],
  ['PUT', '/settings/#/wanted', 'Wanted settings changed', 'device'],
  ['POST', '/settings/#/write', 'Settings written to the device', 'device'],

  ['POST', '/register-maps', 'Map added'],
  ['POST', '/register-maps/import', 'Map imported'],
  ['PUT', '/register-maps/#', 'Map changed', 'map'],
  ['DELETE', '/register-maps/#', 'Map removed', 'map'],
  ['POST', '/register-maps/#/versions/#/restore', 'Earlier version of the map restored', 'map'],

  ['POST', '/sensing', 'Sensing changed'],
  ['DELETE', '/sensing/#', 'Change of sensing undone'],
  ['POST', '/instruments', 'Instrument added'],
  ['PUT', '/instruments/#', 'Instrument changed'],
  ['DELETE', '/instruments/#', 'Instrument archived'],
  ['POST', '/instruments/#/put-back', 'Instrument back in use'],
  ['POST', '/calibrations', 'Correction applied'],
  ['POST', '/calibrations/#/copy', 'Correction copied'],
  ['POST', '/calibrations/#/undo', 'Correction undone'],
  ['POST', '/verifications/#/records', 'Wiring recorded', 'place'],
  ['POST', '/verifications/#/look-anew', 'Rewired: looked at again', 'place'],
  ['POST', '/verifications/#/mended', 'Decided on readings before a repair', 'place'],
  ['POST', '/verifications/#/step-test', 'Step test started', 'place'],
  ['DELETE', '/verifications/#/step-test', 'Step test ended', 'place'],
  ['POST', '/verifications/#/step-test/operate', 'Step test: relay operated', 'place'],
  ['POST', '/verifications/#/step-test/skip', 'Step test: step skipped', 'place'],
  ['POST', '/verifications/#/step-test/not-this', 'Step test: another load was found', 'place'],
  ['POST', '/outputs/#/try', 'Output tried', 'switch'],
  ['DELETE', '/outputs/trial', 'Trial of an output ended'],
  ['POST', '/fast-looks', 'Fast look started'],
  ['POST', '/fast-looks/#/stop', 'Fast look stopped', 'place'],
  ['DELETE', '/fast-looks/#', 'Fast look removed'],

  ['POST', '/verdicts', 'Doubtful readings decided on'],
  ['DELETE', '/verdicts/#', 'Decision on doubtful readings undone'],
  ['POST', '/exchanges', 'Exchange of a meter recorded'],
  ['DELETE', '/points/#/exchanges/#', 'Recorded exchange removed', 'point'],
  ['PUT', '/points/#/counter', 'Counter changed', 'point'],
  ['POST', '/totals/clear', 'Totals set to zero'],
  ['POST', '/virtual-meters', 'Virtual meter added'],
  ['PUT', '/virtual-meters/#', 'Virtual meter changed', 'virtual meter'],
  ['DELETE', '/virtual-meters/#', 'Virtual meter removed', 'virtual meter'],
  ['POST', '/virtual-meters/#/restore', 'Virtual meter restored', 'virtual meter'],

  ['POST', '/dashboards', 'Dashboard added'],
  ['PUT', '/dashboards/#', 'Dashboard changed', 'dashboard'],
  ['DELETE', '/dashboards/#', 'Dashboard removed', 'dashboard'],
  ['POST', '/dashboards/#/restore', 'Earlier version of the dashboard restored', 'dashboard'],
  ['POST', '/reports', 'Report kept'],
  ['DELETE', '/reports/#', 'Report removed'],
  ['POST', '/reports/#/restore', 'Report restored'],

  ['POST', '/alerts/#/acknowledge', 'Alert acknowledged'],
  ['POST', '/alert-rules', 'Alert rule added'],
  ['PUT', '/alert-rules/#', 'Alert rule changed'],
  ['DELETE', '/alert-rules/#', 'Alert rule removed'],
  ['POST', '/switches', 'Switch added'],
  ['PUT', '/switches/#', 'Switch changed', 'switch'],
  ['DELETE', '/switches/#', 'Switch removed', 'switch'],
  ['POST', '/switches/#/operate', 'Switch operated', 'switch'],
  ['POST', '/cut-off-rules', 'Cut-off added'],
  ['PUT', '/cut-off-rules/#', 'Cut-off changed'],
  ['DELETE', '/cut-off-rules/#', 'Cut-off removed'],
  ['POST', '/cut-off-rules/#/restore', 'Switch restored after a cut-off'],
];

const LOOKUP = new Map(
  WORDS.map(([method, address, words, kind]) => [`${method} ${address}`, { words, kind }]),
);

/** A change in words; the request as it was where it has none. */
export function changeInWords({ action, subject }: Pick<AuditEntry, 'action' | 'subject'>): ChangeInWords {
  const address = subject.replace(/^\/api/, '');
  // Some addresses name several things at once: 3,4,5.
  const found = LOOKUP.get(`${action} ${address.replace(/\/\d+(,\d+)*(?=\/|$)/g, '/#')}`);
  if (!found) return { words: `${action} ${address}`, kind: null, id: null };
  const [, id] = found.kind ? (/\/(\d+)/.exec(address) ?? []) : [];
  return { words: found.words, kind: found.kind ?? null, id: id === undefined ? null : Number(id) };
}

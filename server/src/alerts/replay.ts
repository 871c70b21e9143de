import { QUIET, stepLimitAlert } from '@loka/core/alerts';
import type { Sample } from '@loka/core/series';
import type { AlertEntity, AlertRuleEntity } from './alert.entity.js';
import { raisedBy } from './raisedBy.js';

/**
 * What a rule would have raised over recorded readings, oldest first: the same decision as over those that come in. What still
 * stood at their end is left out; the readings that come then raise it.
 * @param samples ascending; @param unit base unit of its point
 */
export function replay(rule: AlertRuleEntity, samples: Iterable<Sample>, unit: string): AlertEntity[] {
  const alerts: AlertEntity[] = [];
  let state = QUIET;
  for (const { t, v, q } of samples) {
    const { state: next, event } = stepLimitAlert(rule, state, { t, v, q });
    state = next;
    if (event === 'raised') alerts.push(raisedBy(rule, { t, v }, unit));
    const last = alerts.at(-1);
    if (event === 'returned' && last) {
      last.returnedAt = t;
      state = QUIET;
    }
  }
  return alerts.filter((alert) => alert.returnedAt !== null);
}

import { printSet } from '@loka/core/formats';
import { randomUUID } from 'node:crypto';
import type { AlertEntity, AlertRuleEntity } from './alert.entity.js';

/** "below 207 V" */
export const conditionInWords = (
  { direction, limit }: Pick<AlertRuleEntity, 'direction' | 'limit'>,
  unit: string,
): string => `${direction} ${printSet(limit, unit)}`;

/** The occurrence that a rule raises with a reading. @param t UTC ms; @param v and @param unit base unit of its point */
export const raisedBy = (
  rule: AlertRuleEntity,
  { t, v }: { t: number; v: number | null },
  unit: string,
): AlertEntity => ({
  id: randomUUID(),
  kind: 'limit',
  source: null,
  ruleId: rule.id,
  pointId: rule.pointId,
  name: rule.name,
  condition: conditionInWords(rule, unit),
  raisedAt: t,
  value: v,
  returnedAt: null,
  acknowledgedAt: null,
  acknowledgedBy: null,
});

import type { CutOffRule } from '@loka/contract/control';
import { decisionInWords } from './decisionInWords.js';

const rule = (over: Partial<CutOffRule>): CutOffRule => ({
  id: 1,
  switchId: 1,
  pointId: 1,
  limit: 3600,
  delayMs: 2000,
  ignoreAfterOnMs: 5000,
  enabled: true,
  tripped: null,
  decision: null,
  ...over,
});

it.each([
  [{ tripped: { at: 0, value: 3720 } }, 'Cut off at 3.72 kW; locked out until restored'],
  [{ enabled: false }, 'Not armed'],
  [{}, 'Armed, no reading yet'],
  [
    { decision: { action: 'none', because: 'inrush', remainingMs: 3200 } },
    'Just closed: ignoring the surge for 4 s',
  ],
  [
    { decision: { action: 'none', because: 'waiting', remainingMs: 900 } },
    'Above the limit: cuts off in 1 s',
  ],
  [{ decision: { action: 'none', because: 'blind' } }, 'Blind: the reading is missing, it cannot protect'],
  [{ decision: { action: 'none', because: 'below' } }, 'Armed; below the limit'],
] as [Partial<CutOffRule>, string][])('%j', (over, words) =>
  expect(decisionInWords(rule(over), 'W')).toBe(words),
);

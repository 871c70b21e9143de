import type { CutOffRule } from '@loka/contract/control';
import { decisionInWords } from './decisionInWords.js';

const rule = (over: Partial<CutOffRule>): CutOffRule => ({
  id: 1,
  version: 1,
  switchId: 1,
  pointId: 1,
  limit: 3600,
  delayMs: 2000,
  ignoreAfterOnMs: 5000,
  blindAfterMs: 60_000,
  openWhenBlind: false,
  enabled: true,
  missing: null,
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
  [{ tripped: { at: 0, value: null } }, 'Opened because nothing could be read; locked out until restored'],
  [
    { decision: { action: 'none', because: 'blind', long: false } },
    'Blind: the reading is missing, it cannot protect',
  ],
  [
    { decision: { action: 'none', because: 'blind', long: true } },
    'Blind for longer than allowed: it does not protect',
  ],
  [
    { decision: { action: 'none', because: 'implausible' } },
    'The reading cannot be true: it neither trips the cut-off nor resets its delay',
  ],
  [{ missing: 'Its switch is no longer there' }, 'Does not protect. Its switch is no longer there'],
  [{ decision: { action: 'none', because: 'below' } }, 'Armed; below the limit'],
] as [Partial<CutOffRule>, string][])('%j', (over, words) =>
  expect(decisionInWords(rule(over), 'W')).toBe(words),
);

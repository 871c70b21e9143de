import type { CutOffRule } from '@loka/contract/control';
import { printInUnit } from '@loka/core/formats';

/** What a cut-off rule does now and why. */
export function decisionInWords({ decision, enabled, tripped, missing }: CutOffRule, unit: string): string {
  if (tripped?.value === null) return 'Opened because nothing could be read; locked out until restored';
  if (tripped) return `Cut off at ${printInUnit(tripped.value, unit)}; locked out until restored`;
  if (!enabled) return 'Not armed';
  if (missing !== null) return `Does not protect. ${missing}`;
  if (!decision) return 'Armed, no reading yet';
  if (decision.action === 'trip') return 'Cutting off';
  switch (decision.because) {
    case 'inrush':
      return `Just closed: ignoring the surge for ${Math.ceil(decision.remainingMs / 1000)} s`;
    case 'waiting':
      return `Above the limit: cuts off in ${Math.ceil(decision.remainingMs / 1000)} s`;
    case 'blind':
      return decision.long
        ? 'Blind for longer than allowed: it does not protect'
        : 'Blind: the reading is missing, it cannot protect';
    case 'implausible':
      return 'The reading cannot be true: it neither trips the cut-off nor resets its delay';
    case 'open':
      return 'Armed; the switch is open';
    case 'locked-out':
      return 'Locked out';
    case 'below':
      return 'Armed; below the limit';
  }
}

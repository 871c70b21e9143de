import type { Check } from './check.js';
import { checkAlive } from './checks/alive.js';
import { checkClipped } from './checks/clipped.js';
import { checkBeside, checkCounter, checkParts } from './checks/compare.js';
import { checkOutput } from './checks/output.js';
import { checkPhases, type PhasesSeen } from './checks/phases.js';
import { checkRatio } from './checks/ratio.js';
import { checkSupply } from './checks/supply.js';
import { checkThrough } from './checks/through.js';
import { checkZero } from './checks/zero.js';
import type { Look } from './circuit.js';
import { eventsOf, type SeenEvent } from './events.js';
import type { Fault } from './faults.js';
import { truthsOf } from './truth.js';

/** What the readings tell of how a circuit's meter is wired. */
export interface Diagnosis {
  /** The checklist, in the order in which one thing rests on another. */
  checks: Check[];
  /** The faults that the readings name; none where all is well, or where they cannot tell. */
  faults: Fault[];
  /** The loads that came and went. */
  events: SeenEvent[];
  /** The ways in which the clamps may be fitted, tried on the readings. */
  tried: PhasesSeen['tried'];
}

/**
 * Diagnoses a circuit's meter from a window of readings and what is known of the installation. A fault is named only where
 * the readings leave no other; docs/verification.md lists what they cannot tell.
 */
export function diagnose(look: Look): Diagnosis {
  const events = eventsOf(look);
  const truths = truthsOf(events, look.circuit);
  const alive = checkAlive(look, truths);
  const checks: Check[] = [checkSupply(look), alive.check, checkZero(look)];
  const output = checkOutput(look, events);
  if (output) checks.push(output);
  const faults: Fault[] = alive.fault ? [alive.fault] : [];
  let tried: PhasesSeen['tried'] = null;
  if (!alive.fault) {
    const clipped = checkClipped(look, truths);
    const through = checkThrough(look, events, truths);
    checks.push(clipped.check, through.check);
    if (clipped.fault) faults.push(clipped.fault);
    else if (through.fault) faults.push(through.fault);
    if (alive.moves && through.check.verdict !== 'fail') {
      const phases = checkPhases(look, events, truths);
      checks.push(phases.check);
      faults.push(...phases.faults);
      tried = phases.tried;
      // With a clamp on another line or turned round, power says nothing of the ratio.
      if (!clipped.fault && phases.check.verdict !== 'fail') {
        const ratio = checkRatio(look, truths);
        checks.push(ratio.check);
        if (ratio.fault) faults.push(ratio.fault);
      }
    }
  }
  for (const check of [checkCounter(look), checkParts(look), checkBeside(look)])
    if (check) checks.push(check);
  return { checks, faults, events, tried };
}

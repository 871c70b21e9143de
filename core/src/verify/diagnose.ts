import type { Check } from './check.js';
import { checkAlive } from './checks/alive.js';
import { checkClipped } from './checks/clipped.js';
import { checkBeside, checkCounter, checkParts } from './checks/compare.js';
import { checkDc } from './checks/dc.js';
import { checkInputs } from './checks/inputs.js';
import { checkOutput } from './checks/output.js';
import type { PhasesSeen } from './checks/phaseFaults.js';
import { checkPhases } from './checks/phases.js';
import { checkRatio } from './checks/ratio.js';
import { checkSettings } from './checks/settings.js';
import { checkStandby } from './checks/standby.js';
import { checkSupply } from './checks/supply.js';
import { checkThrough } from './checks/through.js';
import { checkZero } from './checks/zero.js';
import type { Look } from './circuit.js';
import { eventsOf, type SeenEvent } from './events.js';
import type { Fault } from './faults.js';
import { truthsOf } from './truth.js';

/** What the readings tell of how a circuit's meter is wired. */
export interface Diagnosis {
  /** The checklist, in the order in which one thing depends on another. */
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
  if (isDcAlone(look)) return { checks: dcChecks(look), faults: [], events: [], tried: null };
  const events = eventsOf(look);
  const truths = truthsOf(events, look.circuit);
  const alive = checkAlive(look, truths);
  const settings = checkSettings(look);
  const checks: Check[] = [checkSupply(look)];
  if (settings) checks.push(settings.check);
  checks.push(alive.check, checkZero(look));
  const standby = checkStandby(look, events);
  if (standby) checks.push(standby);
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
      // With a clamp on another line or turned round, power says nothing about the ratio.
      if (!clipped.fault && phases.check.verdict !== 'fail') {
        const ratio = checkRatio(look, truths);
        checks.push(ratio.check);
        if (ratio.fault) faults.push(ratio.fault);
      }
    }
  }
  // The readings themselves may have told the same already.
  if (settings?.fault && !faults.some((f) => f.kind === settings.fault?.kind)) faults.push(settings.fault);
  for (const check of [checkCounter(look), checkParts(look), checkBeside(look)])
    if (check) checks.push(check);
  return { checks: [...checks, ...dcChecks(look)], faults, events, tried };
}

/** Whether nothing but a DC side is measured: then all that is said of lines and phases says nothing. */
const isDcAlone = ({ own, dc }: Look): boolean =>
  dc != null && own.channels.length === 0 && own.total === null;

const dcChecks = (look: Look): Check[] => [checkDc(look), checkInputs(look)].flatMap((check) => check ?? []);

import { diagnose } from './diagnose.js';
import { FAULT_KINDS, type FaultKind } from './faults.js';
import { seededInstallation, type Condition } from './seeded/installations.js';

/** What came of diagnosing the installations of a range of seeds, each once with a fault and once healthy. */
function judge(from: number, count: number) {
  const sum = { tellable: 0, told: 0, others: 0, wronglyNamed: 0, healthy: 0, accused: 0 };
  const wrong: string[] = [];
  const look = (seed: number, condition: Condition) => {
    const made = seededInstallation(seed, condition);
    const diagnosis = diagnose(made.look);
    return { ...made, diagnosis, named: [...new Set(diagnosis.faults.map((f) => f.kind))].join(' ') };
  };
  for (let i = 0; i < count; i++) {
    const fault = FAULT_KINDS[i % FAULT_KINDS.length] as FaultKind;
    const faulty = look(from + i, fault);
    const isRight = faulty.named === fault;
    if (faulty.tellable) {
      sum.tellable++;
      if (isRight) sum.told++;
    } else {
      sum.others++;
      if (faulty.named !== '' && !isRight) sum.wronglyNamed++;
    }
    const healthy = look(from + i, 'healthy');
    sum.healthy++;
    if (healthy.diagnosis.checks.some((c) => c.verdict === 'fail')) sum.accused++;
    if (faulty.tellable && !isRight) wrong.push(`${from + i} ${fault}: “${faulty.named}”, ${faulty.about}`);
  }
  return { ...sum, wrong };
}

describe('diagnosis', () => {
  // Generator and diagnosis share no formula: one works with complex voltages and currents, the other with readings.
  it.each([[1], [20_001]])('of 400 made-up installations from seed %i and as many healthy ones', (from) => {
    const { tellable, told, others, wronglyNamed, healthy, accused, wrong } = judge(from, 400);
    expect(tellable).toBeGreaterThan(200);
    expect({ told: told / tellable >= 0.95, wrong: told / tellable >= 0.95 ? [] : wrong }).toEqual({
      told: true,
      wrong: [],
    });
    expect(wronglyNamed / others).toBeLessThanOrEqual(0.05);
    expect(accused / healthy).toBeLessThan(0.01);
  });
});

import { diagnose, FAULT_KINDS, type FaultKind } from '@loka/core/verify';
import { seededInstallation, type Condition } from '@loka/core/verify/seeded';

// What the diagnosis of wiring comes to on made-up installations: of each fault that the readings can tell, how many are
// named rightly; of the others, how many it keeps quiet about; of healthy ones, how many it accuses. `FROM` is the first seed.
const FROM = Number(process.env.FROM ?? 1);
const COUNT = 400;

interface Row {
  tellable: number;
  told: number;
  others: number;
  quiet: number;
  rightAnyway: number;
}

const rows = new Map<Condition, Row>();
let accused = 0;
let took = 0;
const look = (seed: number, condition: Condition) => {
  const made = seededInstallation(seed, condition);
  const since = performance.now();
  const diagnosis = diagnose(made.look);
  took += performance.now() - since;
  return { made, diagnosis, named: [...new Set(diagnosis.faults.map((f) => f.kind))].join(' ') };
};
for (let i = 0; i < COUNT; i++) {
  const fault = FAULT_KINDS[i % FAULT_KINDS.length] as FaultKind;
  const { made, named } = look(FROM + i, fault);
  const row = rows.get(fault) ?? { tellable: 0, told: 0, others: 0, quiet: 0, rightAnyway: 0 };
  rows.set(fault, row);
  if (made.tellable) {
    row.tellable++;
    if (named === fault) row.told++;
  } else {
    row.others++;
    if (named === '') row.quiet++;
    else if (named === fault) row.rightAnyway++;
  }
  if (look(FROM + i, 'healthy').diagnosis.checks.some((c) => c.verdict === 'fail')) accused++;
}
const all = [...rows.values()];
const sum = (of: (row: Row) => number): number => all.reduce((total, row) => total + of(row), 0);
for (const [kind, row] of rows)
  console.log(
    `${kind.padEnd(16)} named rightly ${row.told} of ${row.tellable}; of ${row.others} others quiet ${row.quiet}, right all the same ${row.rightAnyway}`,
  );
console.log(
  `all ${sum((r) => r.told)} of ${sum((r) => r.tellable)} (${((100 * sum((r) => r.told)) / sum((r) => r.tellable)).toFixed(1)} %); healthy ones accused: ${accused} of ${COUNT}; ${(took / (2 * COUNT)).toFixed(1)} ms each`,
);

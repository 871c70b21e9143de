import type { RecordSection } from '@loka/contract/record';
import type { StepTest, VerificationRecord } from '@loka/contract/verify';
import { measured, NOTHING, section, type RecordClock } from './section.js';

const VERDICTS = { pass: 'pass', fail: 'fail', 'cannot-tell': 'cannot tell' } as const;

/**
 * How the wiring was found and left, with the checks of the last time, and the loads that were switched.
 * @param records newest first; @param fault what is wrong with it now; null with nothing
 */
export function wiringSection(
  clock: RecordClock,
  records: readonly VerificationRecord[],
  tests: readonly StepTest[],
  fault: string | null,
): RecordSection {
  const newest = records[0];
  const says = [
    ...(fault === null ? [] : [`Its readings say now that it is wired wrongly: ${fault}`]),
    ...(newest ? [] : ['Its wiring has not been verified.']),
  ];
  const found = records.findLast((r) => r.kind === 'as-found');
  const left = records.find((r) => r.kind === 'as-left');
  const put = (record: VerificationRecord | undefined) => {
    if (!record) return 'not recorded';
    const failed = record.checks.filter((c) => c.verdict === 'fail').map((c) => c.says);
    const what = failed.length > 0 ? failed.join(' ') : record.proven ? 'Wired right.' : 'Not proven.';
    return [`${what} ${clock.minute(record.at)}, ${record.who}.`, record.past].filter(Boolean).join(' ');
  };
  const shown = left ?? newest;
  const loads = tests.flatMap((test) =>
    test.steps.flatMap(({ load, on, found: step }) =>
      step === null || step === 'skipped' || !on ? [] : [{ load, step }],
    ),
  );
  return section('Wiring', {
    says,
    facts: newest
      ? [
          ['As found', put(found)],
          ['As left', put(left)],
        ]
      : [],
    tables: [
      ...(shown
        ? [
            {
              head: ['Check', 'Verdict', 'Rests on'],
              rows: shown.checks.map((c) => [c.says, VERDICTS[c.verdict], c.rests || NOTHING]),
            },
          ]
        : []),
      ...(loads.length > 0
        ? [
            {
              head: ['Load switched', 'When', 'Expected#', 'Read here#', 'Read above#', 'Verdict'],
              rows: loads.map(({ load, step }) => [
                load.name,
                clock.minute(step.t),
                step.expected === null ? NOTHING : measured(step.expected, 'W'),
                step.own === null ? measured(step.amperes, 'A') : measured(step.own, 'W'),
                step.above === null ? NOTHING : measured(step.above, 'W'),
                VERDICTS[step.verdict],
              ]),
            },
          ]
        : []),
    ],
  });
}

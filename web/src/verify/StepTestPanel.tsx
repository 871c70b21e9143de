import type { InstallationNode } from '@loka/contract/installation';
import type { StepAsked, StepTest, Verification } from '@loka/contract/verify';
import type { FoundStep } from '@loka/core/verify';
import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { mutate } from 'swr';
import { useNow } from '../api/clock.js';
import { api } from '../api/client.js';
import { useStepTests } from '../api/useApi.js';
import { useSum } from '../api/live.js';
import { ConductorMarks } from '../shared/ConductorMarks.js';
import { Measured } from '../shared/Measured.js';
import { useNotices } from '../shared/notices.js';
import { usePeriod } from '../shared/period.js';
import { CheckMark, VERDICT_WORDS } from './CheckMark.js';
import { StepTestForm } from './StepTestForm.js';
import { StepTrace } from './StepTrace.js';
import { useSumTrace } from './useSumTrace.js';
import bench from './VerifyBench.module.css';
import styles from './StepTest.module.css';

const SHOWN = 45_000;
const TOLERANCE = 0.1;
/** A step that has not been seen for so long is not coming by itself, ms. */
const LONG = 20_000;

/** The step test: what to do now, what was found, and the list of loads. */
export function StepTestPanel({
  node,
  nodes,
  verification,
}: {
  node: InstallationNode;
  nodes: InstallationNode[];
  verification: Verification;
}) {
  const { stepTest } = verification;
  const [again, setAgain] = useState<number | null>(null);
  const under = stepTest !== null && stepTest.endedAt === null;
  const done = stepTest !== null && !under && again !== stepTest.id;
  return (
    <section aria-label="Step test">
      <div className={bench.listTitle}>
        <h2>Step test</h2>
        {under && <Progress test={stepTest} />}
        <span className={bench.space} />
        {done && <Button onClick={() => setAgain(stepTest.id)}>Once more</Button>}
      </div>
      {under && <UnderWay node={node} test={stepTest} verification={verification} />}
      {!under && !done && <StepTestForm node={node} nodes={nodes} />}
      {(under || done) && <Results test={stepTest} above={verification.above} />}
      <Earlier node={node} shown={stepTest?.id ?? null} above={verification.above} />
    </section>
  );
}

const isFound = (step: StepAsked): step is StepAsked & { found: FoundStep } =>
  step.found !== null && step.found !== 'skipped';

/** One box a step: found, left out, asked for, still to come. */
function Progress({ test }: { test: StepTest }) {
  const present = test.steps.find((s) => s.found === null);
  return (
    <span
      className={styles.progress}
      role="img"
      aria-label={`Step ${test.steps.filter((s) => s.found !== null).length + 1} of ${test.steps.length}`}
    >
      {test.steps.map((step, i) => (
        <i
          key={i}
          data-state={
            isFound(step)
              ? step.found.verdict
              : step.found === 'skipped'
                ? 'skipped'
                : step === present
                  ? 'now'
                  : 'open'
          }
        />
      ))}
    </span>
  );
}

function UnderWay({
  node,
  test,
  verification,
}: {
  node: InstallationNode;
  test: StepTest;
  verification: Verification;
}) {
  const { attempt } = useNotices();
  const now = useNow(500);
  const power = useSum(node.powerPointIds);
  const trace = useSumTrace(node.powerPointIds, SHOWN);
  const step = test.steps.find((s) => s.found === null);
  const last = test.steps.findLast(isFound);
  if (!step) return null;
  const post = (what: string, method = 'POST', meant?: StepAsked) =>
    void attempt(async () => {
      const body = meant ? { step: test.steps.indexOf(meant) } : undefined;
      await api(`/verifications/${node.id}/step-test${what}`, method, body);
      await mutate(`/verifications/${node.id}`);
    });
  const waits = step.askedAt === null;
  const leave = step.askedAt === null ? 0 : Math.ceil((step.askedAt - now) / 1000);
  const base = trace.findLast((r) => step.askedAt !== null && r.t <= step.askedAt)?.v ?? trace[0]?.v ?? 0;
  const level = step.load.watts === null ? null : base + (step.on ? 1 : -1) * step.load.watts;
  return (
    <div className={styles.underWay}>
      <div className={styles.what}>
        <p className={styles.ask} aria-live={leave > 0 ? 'off' : 'polite'}>
          <CheckMark verdict="do-now" size={22} />
          {waits
            ? `Switch ${step.load.name} ${step.on ? 'on' : 'off'} by its relay?`
            : leave > 0
              ? `Leave ${step.load.name} ${step.on ? 'off' : 'on'} for another ${leave} s.`
              : `Switch ${step.load.name} ${step.on ? 'on' : 'off'} now.`}
        </p>
        <p className="muted" role="status">
          {step.askedAt !== null && now - step.askedAt > LONG && notSeen(step)}
        </p>
      </div>
      <div className={styles.live}>
        <Measured value={power} unit="W" />
        <span className="muted">
          {verification.above && <Above watts={verification.aboveWatts} name={verification.above} />}
        </span>
      </div>
      <StepTrace
        own={trace}
        now={now}
        length={SHOWN}
        since={step.askedAt}
        expected={level === null || level <= 0 ? null : { level, tolerance: TOLERANCE }}
      />
      {last && <Found step={last} />}
      <div className={bench.actions}>
        {waits ? (
          <Button variant="contained" onClick={() => post('/operate')}>
            Operate the relay
          </Button>
        ) : (
          last && (
            <Button variant="outlined" onClick={() => post('/not-this', 'POST', last)}>
              Not this load
            </Button>
          )
        )}
        <Button variant="outlined" onClick={() => post('/skip', 'POST', step)}>
          Skip
        </Button>
        <span className={bench.space} />
        <Button onClick={() => post('', 'DELETE')}>End the test</Button>
      </div>
    </div>
  );
}

/** What helps where no step has come for a while. */
const notSeen = ({ load, on }: StepAsked): string =>
  load.byRelay
    ? 'No step has been read since the relay switched. The load may not want power now: skip it.'
    : on
      ? `No clear step has been read yet. If ${load.name} is on, switch it off and on again, or skip it.`
      : `No clear step has been read yet. If ${load.name} is off, switch it on and off again, or skip it.`;

const Above = ({ watts, name }: { watts: number | null; name: string }) => (
  <>
    {name} <Measured value={watts} unit="W" />
  </>
);

/** What was found last, large enough to be read at arm's length. */
function Found({ step }: { step: StepAsked & { found: FoundStep } }) {
  const { found } = step;
  // What came when it was switched on, what went when it was switched off.
  const size = found.own ?? found.amperes;
  const shown = found.on ? size : -size;
  return (
    <div className={styles.found} data-verdict={found.verdict}>
      <span className="muted">
        {step.load.name} {found.on ? 'on' : 'off'}
      </span>
      <strong className="measured">
        {shown > 0 && '+'}
        <Measured value={shown} unit={found.own === null ? 'A' : 'W'} />
      </strong>
      <span className={styles.mark}>
        <CheckMark verdict={found.verdict} size={26} />
        <span>{VERDICT_WORDS[found.verdict]}</span>
      </span>
      <span>{found.says}</span>
    </div>
  );
}

/** Step tests of before: they stay with the circuit. */
function Earlier({
  node,
  shown,
  above,
}: {
  node: InstallationNode;
  shown: number | null;
  above: string | null;
}) {
  const { zone } = usePeriod();
  const { data: tests = [] } = useStepTests(node.id);
  const earlier = tests.filter((t) => t.id !== shown && t.steps.some(isFound));
  if (earlier.length === 0) return null;
  return (
    <details>
      <summary>
        {earlier.length === 1 ? '1 earlier step test' : `${earlier.length} earlier step tests`}
      </summary>
      {earlier.map((test) => (
        <div key={test.id}>
          <p className="muted">
            {siteClock(zone, test.startedAt, 'd LLL yyyy HH:mm')}, {test.who}
          </p>
          <Results test={test} above={above} />
        </div>
      ))}
    </details>
  );
}

/** The loads one by one, as they were found. */
function Results({ test, above }: { test: StepTest; above: string | null }) {
  const { zone } = usePeriod();
  const rows = test.steps.filter((s) => s.found !== null);
  if (rows.length === 0) return null;
  return (
    <table className={styles.results}>
      <thead>
        <tr>
          <th>Load switched</th>
          <th className="number">Expected</th>
          <th className="number">{above ?? 'Above'} saw</th>
          <th className="number">Here</th>
          <th>By line</th>
          <th>Verdict</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((step, i) => {
          const found = isFound(step) ? step.found : null;
          return (
            <tr key={i}>
              <td>
                {step.load.name} {step.on ? 'on' : 'off'}
                {found && <span className="muted"> {siteClock(zone, found.t, 'HH:mm:ss')}</span>}
              </td>
              <td className="number">
                <Measured value={found?.expected ?? step.load.watts} unit="W" />
              </td>
              <td className="number">
                <Measured value={found?.above} unit="W" />
              </td>
              <td className="number">
                {found && found.own === null ? (
                  <Measured value={found.amperes} unit="A" />
                ) : (
                  <Measured value={found?.own} unit="W" />
                )}
              </td>
              <td>
                {found?.lines
                  .filter((l) => Math.abs(l.amperes) > 0.05)
                  .map((l) => (
                    <ConductorMarks key={l.line} phases={l.line} />
                  ))}
              </td>
              <td title={found?.says}>
                {found ? (
                  <span className={styles.mark}>
                    <CheckMark verdict={found.verdict} size={15} /> {VERDICT_WORDS[found.verdict]}
                  </span>
                ) : (
                  <span className="muted">left out</span>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

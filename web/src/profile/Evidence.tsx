import type { PlaceProfile } from '@loka/contract/profile';
import type { Finding } from './finding.js';
import styles from './Profiles.module.css';

const [W, H] = [150, 44];
/** Room that two digits take. */
const LABEL = 14;

/** What a finding depends on, as a small drawing. */
export function Evidence({ finding, profile }: { finding: Finding; profile: PlaceProfile }) {
  const drawing = drawn(finding, profile);
  return drawing ? (
    <svg className={styles.evidence} viewBox={`0 0 ${W} ${H}`} width={W} height={H} aria-hidden>
      {drawing}
    </svg>
  ) : (
    <span />
  );
}

function drawn({ of, level, between }: Finding, profile: PlaceProfile) {
  switch (of) {
    case 'levels':
      return (
        <Bars
          values={profile.levels.levels.map((l) => (level === undefined ? l.time : l.energy))}
          strong={level}
        />
      );
    case 'runs':
      return <Cycle profile={profile} />;
    case 'lengths':
      return <Lengths profile={profile} between={between} />;
    case 'recurring':
      return <Comings profile={profile} level={level} />;
    case 'demand':
      return <Curve profile={profile} />;
    case 'days':
    case 'energy':
    case 'month':
      return <Energy profile={profile} />;
  }
}

/** Shares as bars side by side. */
function Bars({ values, strong }: { values: number[]; strong: number | undefined }) {
  const most = Math.max(...values, 0.01);
  const each = Math.min(30, W / values.length);
  // The largest first; what has no room beside them goes without.
  const told = values
    .map((_, i) => i)
    .filter((i) => each >= 18 || (values[i] as number) >= 0.1)
    .sort((a, b) => (values[b] as number) - (values[a] as number))
    .reduce<number[]>(
      (shown, i) => (shown.every((j) => Math.abs(i - j) * each >= LABEL) ? [...shown, i] : shown),
      [],
    );
  return (
    <>
      <line x1={0} x2={W} y1={H - 10} y2={H - 10} className={styles.thin} />
      {values.map((v, i) => {
        const height = (Math.max(0, v) / most) * (H - 22);
        return (
          <g key={i}>
            <rect
              x={i * each + 3}
              y={H - 10 - height}
              width={Math.max(2, each - 8)}
              height={height}
              className={strong === undefined || strong === i ? styles.strong : styles.weak}
            />
            {told.includes(i) && (
              <text x={i * each + each / 2 - 1} y={H - 1} className={styles.small}>
                {Math.round(100 * v)}
              </text>
            )}
          </g>
        );
      })}
    </>
  );
}

/** A run and a pause of the usual length, with the quartiles of both. */
function Cycle({ profile: { runs } }: { profile: PlaceProfile }) {
  const figures = runs?.figures;
  if (!figures) return null;
  const { on, pause } = figures;
  const whole = on.median + (pause?.median ?? on.median);
  const x = (ms: number) => 4 + (ms / whole) * (W - 24);
  const [rise, fall, end] = [x(0), x(on.median), x(whole)];
  return (
    <>
      <path d={`M0 34H${rise}V8H${fall}V34H${end}V8H${W}`} className={styles.line} />
      <rect
        x={x(on.low)}
        y={6}
        width={Math.max(1, x(on.high) - x(on.low))}
        height={30}
        className={styles.spread}
      />
      <path
        d={`M${rise} 40H${fall}M${rise} 37v6M${fall} 37v6M${fall} 40H${end}M${end} 37v6`}
        className={styles.thin}
      />
    </>
  );
}

/** Each run by when it began and how long it took; those that are spoken of stand out. */
function Lengths({
  profile: { runs, from, to },
  between = [0, Infinity],
}: {
  profile: PlaceProfile;
  between: [number, number] | undefined;
}) {
  if (!runs) return null;
  const all = [...runs.list, ...runs.unusual].map(({ start, end }) => ({ start, length: end - start }));
  const most = Math.max(...all.map((r) => r.length), 1);
  const dots = (some: typeof all) =>
    some
      .map(
        ({ start, length }) =>
          `M${(((start - from) / Math.max(1, to - from)) * (W - 4)).toFixed(1)} ${(H - 8 - (length / most) * (H - 16)).toFixed(1)}h2.6`,
      )
      .join('');
  const spoken = (r: (typeof all)[0]) => r.length >= between[0] && r.length <= between[1];
  return (
    <>
      <line x1={0} x2={W} y1={H - 6} y2={H - 6} className={styles.thin} />
      <path d={dots(all.filter((r) => !spoken(r)))} className={styles.otherRuns} />
      <path d={dots(all.filter(spoken))} className={styles.theseRuns} />
    </>
  );
}

/** The last instants at which it came, and the next. */
function Comings({
  profile: { recurring, to },
  level,
}: {
  profile: PlaceProfile;
  level: number | undefined;
}) {
  const found = recurring.find((r) => r.level === level);
  if (!found) return null;
  const { recurrence, next, duration } = found;
  const from = next - 3.5 * recurrence.period;
  const x = (t: number) => ((t - from) / (3.8 * recurrence.period)) * W;
  const wide = Math.max(2, x(from + duration));
  return (
    <>
      <line x1={0} x2={W} y1={34} y2={34} className={styles.thin} />
      {[3, 2, 1].map((k) => (
        <rect
          key={k}
          x={x(next - k * recurrence.period)}
          y={8}
          width={wide}
          height={26}
          className={styles.strong}
        />
      ))}
      <rect x={x(next)} y={8} width={wide} height={26} className={styles.dashed} />
      <line x1={x(to)} x2={x(to)} y1={2} y2={40} className={styles.nowLine} />
    </>
  );
}

/** The duration curve. */
function Curve({ profile: { duration } }: { profile: PlaceProfile }) {
  if (!duration) return null;
  const [low, high] = [Math.min(0, duration.lowest), Math.max(duration.highest, 1)];
  const points = duration.watts.map(
    (w, i) =>
      `${((i / (duration.watts.length - 1)) * W).toFixed(1)} ${(4 + (1 - (w - low) / (high - low)) * (H - 8)).toFixed(1)}`,
  );
  const mean = 4 + (1 - (duration.mean - low) / (high - low)) * (H - 8);
  return (
    <>
      <path d={`M${points.join('L')}L${W} ${H}L0 ${H}Z`} className={styles.half} />
      <path d={`M${points.join('L')}`} className={styles.line} />
      <line x1={0} x2={W} y1={mean} y2={mean} className={styles.level} />
    </>
  );
}

/** Energy day by day. */
function Energy({ profile: { carpet } }: { profile: PlaceProfile }) {
  const { days, columns, watts } = carpet;
  const sums = days.map((_, row) =>
    watts.slice(row * columns, (row + 1) * columns).reduce<number>((s, w) => s + (w ?? 0), 0),
  );
  const most = Math.max(...sums.map(Math.abs), 1);
  const each = W / Math.max(1, days.length);
  return (
    <>
      <line x1={0} x2={W} y1={H - 6} y2={H - 6} className={styles.thin} />
      {sums.map((s, i) => {
        const height = (Math.abs(s) / most) * (H - 12);
        return (
          <rect
            key={i}
            x={i * each}
            y={H - 6 - height}
            width={Math.max(0.8, each - 1)}
            height={height}
            className={styles.strong}
          />
        );
      })}
    </>
  );
}

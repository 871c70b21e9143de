import type { PlaceProfile } from '@loka/contract/profile';
import { printNumber } from '@loka/core/formats';
import { dayKindAt, type DayKind, type DayType, type Level } from '@loka/core/profile';
import type { Site } from '@loka/contract/site';
import { siteClock } from '@loka/core/time';
import { useMemo, useState } from 'react';
import { UpAxis } from './Axes.js';
import { Hours } from './Carpet.js';
import { daySays } from './daySays.js';
import { bandOver, pathOver } from './pathOver.js';
import styles from './Profiles.module.css';
import { Sentences } from './Sentences.js';

const WIDTH = 960;
const HEIGHT = 300;
export const DAY_TYPE_NAMES = { working: 'Working days', closed: 'Closed days', holiday: 'Holidays' };
const ONE_DAY = { working: 'working day', closed: 'closed day', holiday: 'holiday' };

/** A day as it usually is, by the kind of day: its usual range of power, with today over it. */
export function TypicalDay({
  profile,
  site,
  then = null,
}: {
  profile: PlaceProfile;
  site: Pick<Site, 'timeZone' | 'closedDays' | 'holidays'>;
  /** What is set beside; its median is drawn as well. */
  then?: PlaceProfile | null;
}) {
  const { carpet, dayTypes } = profile;
  const [kind, setKind] = useState<DayKind | null>(null);
  // A day stays the one that was chosen when others are read; until then it is the last.
  const [day, setDay] = useState<number | null>(null);
  const row = day !== null && carpet.days.includes(day) ? carpet.days.indexOf(day) : carpet.days.length - 1;
  const kindOf = (start: number) => dayKindAt(site.timeZone, start, site);
  const type = dayTypes.find((d) => d.name === kind) ?? dayTypes[0];
  const says = useMemo(
    () =>
      row < 0
        ? []
        : daySays(profile, row, dayKindAt(site.timeZone, carpet.days[row] as number, site), site.timeZone),
    [profile, row, site, carpet],
  );
  if (!type)
    return (
      <section aria-label="Typical day" className={styles.picture}>
        <header className={styles.title}>
          <h2>Typical day</h2>
        </header>
        <p className="muted">No day of the period is over yet, so there is no typical day.</p>
      </section>
    );
  return (
    <section aria-label="Typical day" className={styles.picture}>
      <header className={styles.title}>
        <h2>Typical day</h2>
        {dayTypes.map(({ name, rows }) => (
          <button
            key={name}
            type="button"
            className={styles.type}
            aria-pressed={type.name === name}
            onClick={() => setKind(name)}
          >
            {DAY_TYPE_NAMES[name]}, {rows.length}
          </button>
        ))}
        <span className={styles.space} />
        <small>
          <i className={styles.key} data-band="wide" /> 5–95 % <i className={styles.key} data-band="half" />{' '}
          quartiles <i className={styles.key} data-line="median" /> median{' '}
          <i className={styles.key} data-line="last" />{' '}
          <select
            aria-label="Day laid over"
            value={carpet.days[row]}
            onChange={(event) => {
              setDay(Number(event.target.value));
              setKind(kindOf(Number(event.target.value)));
            }}
          >
            {carpet.days.toReversed().map((start) => (
              <option key={start} value={start}>
                {siteClock(site.timeZone, start, 'ccc d LLL')}
              </option>
            ))}
          </select>
          {then?.carpet.columns === carpet.columns && (
            <>
              {' '}
              <i className={styles.key} data-line="before" /> median before
            </>
          )}
        </small>
      </header>
      <TypicalDayDrawing profile={profile} type={type} then={then} row={row} />
      <Sentences all={says} />
    </section>
  );
}

/** The drawing of it: the bands and the median of one kind of day, the levels as lines, the last day, and the median of before. */
export function TypicalDayDrawing({
  profile: { carpet, levels },
  type,
  then,
  row = -1,
  fills = false,
}: {
  profile: PlaceProfile;
  type: DayType;
  then: PlaceProfile | null;
  /** The day that is laid over it, as one counts from the last where below zero. */
  row?: number;
  /** Whether it takes the height that there is. */
  fills?: boolean;
}) {
  const { columns, days, watts } = carpet;
  const laid = row < 0 ? days.length + row : row;
  const last = watts.slice(laid * columns, (laid + 1) * columns);
  // Of a period that is cut into other cells no line can be laid over this one.
  const before =
    then?.carpet.columns === columns ? (then.dayTypes.find((d) => d.name === type.name)?.day.p50 ?? []) : [];
  const all = [...type.day.p95, ...last, ...before].filter((v) => v !== null);
  const [low, high] = [Math.min(0, ...type.day.p5.filter((v) => v !== null)), Math.max(1, ...all)];
  const x = (i: number) => ((i + 0.5) / columns) * WIDTH;
  const y = (w: number) => HEIGHT - 8 - ((w - low) / (high - low)) * (HEIGHT - 24);
  const steady = levels.levels.filter((l) => l.watts >= low && l.watts <= high && !l.varies);
  const line = (values: readonly (number | null)[]) => pathOver(values, x, y);
  const band = (from: readonly (number | null)[], to: readonly (number | null)[]) => bandOver(from, to, x, y);
  const kwh = (type.day.p50.reduce<number>((s, w) => s + (w ?? 0), 0) * carpet.minutes) / 60;
  const shown = printNumber(kwh, 'Wh');
  return (
    <div className={styles.day} data-fills={fills}>
      <UpAxis
        values={apart(steady, y, fills ? READABLE_SMALL : READABLE).map((l) => l.watts)}
        at={(w) => y(w) / HEIGHT}
      />
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        preserveAspectRatio="none"
        role="img"
        aria-label={`A ${ONE_DAY[type.name]} takes ${shown.digits} ${shown.unit} by its median`}
      >
        <path d={band(type.day.p5, type.day.p95)} className={styles.wide} />
        <path d={band(type.day.p25, type.day.p75)} className={styles.half} />
        {steady.map((l) => (
          <line key={l.watts} x1={0} x2={WIDTH} y1={y(l.watts)} y2={y(l.watts)} className={styles.level} />
        ))}
        <path d={line(type.day.p50)} className={styles.median} />
        <path d={line(before)} className={styles.before} />
        <path d={line(last)} className={styles.last} />
      </svg>
      <Hours />
    </div>
  );
}

/** So far apart two words can be read; on a dashboard, whose elements may be low, three times as far. */
const READABLE = 22;
const READABLE_SMALL = 66;

/** Levels whose words do not lie over one another: those held longest are told first. */
function apart(levels: readonly Level[], y: (watts: number) => number, least: number): Level[] {
  const told: Level[] = [];
  for (const l of [...levels].sort((a, b) => b.time - a.time))
    if (told.every((t) => Math.abs(y(t.watts) - y(l.watts)) >= least)) told.push(l);
  return told;
}

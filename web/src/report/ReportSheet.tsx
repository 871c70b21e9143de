import type { EnergyReport, ReportFigures, ReportUse } from '@loka/contract/report';
import { siteClock, textOfSpan } from '@loka/core/time';
import { useEffect, useMemo } from 'react';
import { useNavigate } from 'react-router';
import { Carpet } from '../profile/Carpet.js';
import { findingsOf } from '../profile/findings.js';
import { amount, percent, plain, type Part } from '../profile/parts.js';
import { Said } from '../profile/Said.js';
import { Sentences } from '../profile/Sentences.js';
import { DAY_TYPE_NAMES, TypicalDayDrawing } from '../profile/TypicalDay.js';
import { useCopySentences } from '../profile/useCopySentences.js';
import { PlainTable } from '../shared/PlainTable.js';
import { Days } from './Days.js';
import styles from './Report.module.css';
import { perDay, reportSays } from './reportSays.js';

const HOUR = 3_600_000;
/** As many findings of one load as are told. */
const TOLD = 4;
/** Of a place of which less was read that is said. */
const READ = 0.995;
/** As many alerts as are listed. */
const LISTED = 40;

/** A report as it is read and printed. */
export function ReportSheet({ report }: { report: EnergyReport }) {
  const { site, from, to, profile, loads } = report;
  const says = useMemo(() => reportSays(report), [report]);
  // What is saved as a PDF is called as the page is.
  const title = `${site.name}, ${report.place}, ${siteClock(site.timeZone, from, 'yyyy-MM-dd')} to ${siteClock(site.timeZone, to - 1, 'yyyy-MM-dd')}`;
  useEffect(() => {
    const before = document.title;
    document.title = title;
    return () => void (document.title = before);
  }, [title]);
  const copy = useCopySentences();
  const navigate = useNavigate();
  const at = (t: number) => siteClock(site.timeZone, t, 'd LLL yyyy HH:mm');
  const open = (t: number) => {
    const period = textOfSpan(site.timeZone, { start: t - HOUR, end: t + HOUR });
    void navigate(`/board?at=${report.nodeId}&period=${encodeURIComponent(period)}`);
  };
  if (profile.known <= 0)
    return <p className="muted">Nothing was read in this period, so there is nothing to report of it.</p>;
  return (
    <article className={styles.sheet} aria-label={`Energy report of ${report.place}`}>
      <header className={styles.title}>
        <h2>
          {site.name}: {report.place}
        </h2>
        <p className="muted">
          {report.path.length > 0 && `${report.path.join(' › ')} · `}
          {at(from)} to {at(to)} · made {at(report.madeAt)}
          {report.ended ? '' : '; the period goes on'}
        </p>
      </header>
      <section aria-label="What stands out" className={styles.part}>
        <h3>
          What stands out{' '}
          <button type="button" className={styles.copy} onClick={() => copy(says)}>
            copy
          </button>
        </h3>
        <Sentences all={says} answer wide />
      </section>
      <section aria-label="Figures" className={styles.part}>
        <h3>Figures</h3>
        <FiguresTable report={report} />
      </section>
      {report.days.length > 1 && (
        <section aria-label="Day by day" className={styles.part}>
          <h3>Day by day</h3>
          <Days report={report} />
        </section>
      )}
      {report.uses.length > 0 && (
        <section aria-label="Where it went" className={styles.part}>
          <h3>Where it went</h3>
          <UsesTable report={report} />
        </section>
      )}
      <div className={styles.part}>
        <Carpet profile={profile} zone={site.timeZone} onOpen={open} />
      </div>
      {profile.dayTypes.length > 0 && (
        <section aria-label="Typical days" className={styles.part}>
          <h3>Typical days</h3>
          <p className="muted">
            Between 5 and 95 % of the days, their quartiles and median; the last day in colour.
          </p>
          <div className={styles.drawings}>
            {profile.dayTypes.map((type) => (
              <figure key={type.name}>
                <figcaption>
                  {DAY_TYPE_NAMES[type.name]}, {type.rows.length}
                </figcaption>
                <TypicalDayDrawing profile={profile} type={type} then={null} />
              </figure>
            ))}
          </div>
        </section>
      )}
      {loads.length > 0 && (
        <section aria-label="The largest loads" className={styles.part}>
          <h3>The largest loads</h3>
          {loads.map((load) => (
            <div key={load.nodeId} className={styles.load}>
              <div>
                <h4>{load.name}</h4>
                {findingsOf(load.profile, site, report.madeAt)
                  .slice(0, TOLD)
                  .map((finding, i) => (
                    <Said key={i} parts={finding.says} />
                  ))}
              </div>
              {load.profile.dayTypes[0] && (
                <TypicalDayDrawing profile={load.profile} type={load.profile.dayTypes[0]} then={null} />
              )}
            </div>
          ))}
        </section>
      )}
      {report.alerts.length > 0 && (
        <section aria-label="Alerts" className={styles.part}>
          <h3>Alerts</h3>
          <PlainTable head={['Raised', 'Over', 'What', 'Condition']}>
            {report.alerts.slice(-LISTED).map((a, i) => (
              <tr key={i}>
                <td className="measured">{at(a.raisedAt)}</td>
                <td className="measured">{a.returnedAt === null ? 'not over' : at(a.returnedAt)}</td>
                <td>{a.name}</td>
                <td>{a.condition}</td>
              </tr>
            ))}
          </PlainTable>
          {report.alerts.length > LISTED && (
            <p className="muted">
              The last {LISTED} of {report.alerts.length}; all of them are in the CSV.
            </p>
          )}
        </section>
      )}
      {report.partly.length > 0 && (
        <section aria-label="Read in part" className={styles.part}>
          <h3>Read in part</h3>
          <PlainTable head={['Place', 'known for#']}>
            {report.partly.map((p, i) => (
              <tr key={i}>
                <td>{p.name}</td>
                <td className="number measured">{(100 * p.coverage).toFixed(1)} %</td>
              </tr>
            ))}
          </PlainTable>
        </section>
      )}
    </article>
  );
}

const text = (part: Part): string => (typeof part === 'string' ? part : `${part.digits} ${part.unit}`);
const NOTHING = '–';

/** The period beside the one before and that of the year before. */
function FiguresTable({ report: { total, before, lastYear, site, profile } }: { report: EnergyReport }) {
  const columns = [
    { head: 'this period#', of: total },
    ...(before ? [{ head: 'period before#', of: before }] : []),
    ...(lastYear ? [{ head: 'year before#', of: lastYear }] : []),
  ];
  const wh = (value: number | null) => (value === null ? NOTHING : plain(value, 'Wh'));
  const priced = ({ taken }: ReportFigures, each: number | null, say: (value: number) => string) =>
    taken === null || each === null ? NOTHING : say((taken / 1000) * each);
  const rows: [string, (f: ReportFigures) => string][] = [
    ['taken', (f) => wh(f.taken)],
    ['taken a day', (f) => wh(perDay(f, f.taken))],
    ...(columns.some(({ of }) => (of.given ?? 0) > 0)
      ? ([['given', (f) => wh(f.given)]] as [string, (f: ReportFigures) => string][])
      : []),
    ['cost', (f) => priced(f, site.price, (value) => amount(value, site))],
    ['CO₂', (f) => priced(f, site.carbon, (value) => plain(value, 'g'))],
    ['read', (f) => `${(100 * f.coverage).toFixed(1)} %`],
  ];
  return (
    <div className={styles.beside}>
      <PlainTable head={['', ...columns.map((c) => c.head)]}>
        {rows.map(([label, of]) => (
          <tr key={label}>
            <td>{label}</td>
            {columns.map((c) => (
              <td key={c.head} className="number measured">
                {of(c.of)}
              </td>
            ))}
          </tr>
        ))}
      </PlainTable>
      <PlainTable head={['Maximum demand', 'power#', 'began']}>
        {profile.demand.map(({ block, highest }) => (
          <tr key={block}>
            <td>over {block / 60_000} min</td>
            <td className="number measured">{highest ? plain(highest.watts, 'W') : NOTHING}</td>
            <td className="measured">
              {highest ? siteClock(site.timeZone, highest.at, 'ccc d LLL HH:mm') : NOTHING}
            </td>
          </tr>
        ))}
      </PlainTable>
    </div>
  );
}

/** From most to least, with share and cost, and by the day beside other periods. */
function UsesTable({ report: { uses, site } }: { report: EnergyReport }) {
  const sum = uses.reduce((s, u) => s + Math.max(0, u.energy), 0);
  const most = Math.max(...uses.map((u) => u.energy), 1);
  const wh = (value: number | null) => (value === null ? NOTHING : plain(value, 'Wh'));
  // Columns that say nothing are left out.
  const columns: [string, (u: ReportUse) => string][] = [
    ['energy#', (u) => wh(u.energy)],
    ['share#', (u) => (sum > 0 ? text(percent(Math.max(0, u.energy) / sum)) : NOTHING)],
  ];
  if (site.price !== null)
    columns.push(['cost#', (u) => amount((u.energy / 1000) * (site.price as number), site)]);
  columns.push(['a day#', (u) => wh(u.perDay)]);
  if (uses.some((u) => u.before !== null)) columns.push(['a day before#', (u) => wh(u.before)]);
  if (uses.some((u) => u.lastYear !== null)) columns.push(['a year ago#', (u) => wh(u.lastYear)]);
  if (uses.some((u) => u.coverage < READ))
    columns.push(['read#', (u) => `${(100 * u.coverage).toFixed(1)} %`]);
  return (
    <PlainTable head={['', '', ...columns.map(([head]) => head)]}>
      {uses.map((u) => (
        <tr key={u.key}>
          <td>{u.name}</td>
          <td className={styles.barCell} aria-hidden>
            <i data-unmetered={u.unmetered} style={{ width: `${Math.max(0, (100 * u.energy) / most)}%` }} />
          </td>
          {columns.map(([head, of]) => (
            <td key={head} className="number measured">
              {of(u)}
            </td>
          ))}
        </tr>
      ))}
    </PlainTable>
  );
}

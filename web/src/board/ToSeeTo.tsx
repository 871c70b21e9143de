import type { InstallationNode } from '@loka/contract/installation';
import { siteClock } from '@loka/core/time';
import { printAge, printNumber } from '@loka/core/formats';
import { Link } from 'react-router';
import { useAlerts, useDevices, usePoints, useSwitches } from '../api/useApi.js';
import { useNow } from '../api/clock.js';
import { conditionOf, whenOf } from '../alerts/occurrence.js';
import { usePeriod } from '../shared/period.js';
import styles from './ToSeeTo.module.css';

interface Matter {
  key: string;
  level: 'danger' | 'warn';
  title: string;
  detail: string;
  to: string;
}

/** What needs somebody, most pressing first: alerts, silent devices, switches that disagree, work that is missing. */
export function ToSeeTo({ nodes }: { nodes: InstallationNode[] }) {
  const { data: alerts = [] } = useAlerts();
  const { data: devices = [] } = useDevices();
  const { data: switches = [] } = useSwitches();
  const { data: points = [] } = usePoints();
  const { zone } = usePeriod();
  const now = useNow(10_000);
  const unassigned = points.filter((p) => p.nodeId === null).length;
  const matters: Matter[] = [
    ...alerts.map((a): Matter => ({
      key: a.id,
      level: a.acknowledgedAt === null ? 'danger' : 'warn',
      title: a.name,
      detail: `${conditionOf(a)} · ${whenOf(a, zone, 'HH:mm')}. ${a.acknowledgedAt === null ? 'Not acknowledged.' : 'Acknowledged.'}`,
      to: a.kind === 'wiring' ? wiringPlace(nodes, a.name) : '/alerts',
    })),
    ...switches
      .filter((s) => s.lockout !== null)
      .map((s): Matter => ({
        key: `lock${s.id}`,
        level: 'danger',
        title: `${s.name}: locked out`,
        detail: s.lockout ?? '',
        to: `/control?at=${s.nodeId}`,
      })),
    ...switches
      .filter((s) => s.agreement === 'mismatch')
      .map((s): Matter => ({
        key: `switch${s.id}`,
        level: 'danger',
        title: `${s.name}: contact disagrees`,
        detail: `Told to ${s.commanded ? 'close' : 'open'}, reads ${s.readBack ? 'closed' : 'open'}.`,
        to: `/control?at=${s.nodeId}`,
      })),
    ...devices
      .filter((d) => d.health.state === 'failing' || d.health.state === 'partly')
      .map((d): Matter => ({
        key: `device${d.id}`,
        level: 'warn',
        title: `${d.name} ${d.health.state === 'partly' ? 'answers in part' : 'quiet'} for ${printAge(now - d.health.since)}`,
        detail: d.health.fault ?? '',
        to: `/field?device=${d.id}`,
      })),
    ...devices.flatMap((d) =>
      d.stuck.map(({ pointId, name, value, unit, since }): Matter => {
        const { digits, unit: shown } = printNumber(value, unit);
        return {
          key: `stuck${pointId}`,
          level: 'warn',
          title: `${d.name}: ${name} stands still`,
          detail: `Exactly ${digits} ${shown} since ${siteClock(zone, since, 'HH:mm')}. Is the device still measuring?`,
          to: `/field?device=${d.id}`,
        };
      }),
    ),
    ...(nodes.some((n) => n.kind === 'circuit')
      ? []
      : [
          {
            key: 'ways',
            level: 'warn' as const,
            title: 'No ways yet',
            detail: 'Add those of the board’s schedule.',
            to: '/board',
          },
        ]),
    ...together(
      nodes.filter((n) => n.kind === 'circuit' && !n.job.fitted),
      { key: 'fit', what: 'not metered', detail: 'Fit a meter, or assign a point.', all: '/board' },
      (n) => `/field/fit/${n.id}`,
    ),
    ...together(
      nodes.filter((n) => n.kind === 'circuit' && n.job.fitted && !n.job.verified),
      {
        key: 'verify',
        what: 'not verified',
        detail: 'Switch a known load, and see whether it is read right.',
        all: '/bench',
      },
      (n) => `/bench?at=${n.id}&do=verify`,
    ),
    ...together(
      nodes.filter((n) => n.kind === 'circuit' && n.job.fitted && !n.job.calibrated),
      { key: 'calibrate', what: 'not calibrated', detail: 'Two points are enough.', all: '/bench' },
      (n) => `/bench?at=${n.id}&do=calibrate`,
    ),
    ...(unassigned > 0
      ? [
          {
            key: 'unassigned',
            level: 'warn' as const,
            title: `${unassigned} point${unassigned === 1 ? '' : 's'} without a circuit`,
            detail: 'Assign each to a circuit.',
            to: '/field',
          },
        ]
      : []),
  ];
  // Danger first; else in the order above.
  matters.sort((a, b) => Number(a.level === 'warn') - Number(b.level === 'warn'));
  return (
    <aside className={styles.list} aria-label="To see to">
      <h2>To see to</h2>
      {matters.length === 0 && (
        <p className="muted">Nothing. All devices answer, and the job is done everywhere.</p>
      )}
      {matters.slice(0, 7).map((matter) => (
        <Link key={matter.key} to={matter.to} className={styles.matter} data-level={matter.level}>
          <strong>{matter.title}</strong>
          <span>{matter.detail}</span>
        </Link>
      ))}
      {matters.length > 7 && <p className="muted">and {matters.length - 7} more</p>}
    </aside>
  );
}

/** Where a wiring fault is looked into: at the bench of its circuit. */
const wiringPlace = (nodes: readonly InstallationNode[], name: string): string => {
  const node = nodes.find((n) => n.name === name && n.wiringFault !== null);
  return node ? `/bench?at=${node.id}&do=verify` : '/alerts';
};

/** Circuits of which the same is missing, in one line; where it is one, straight to where it is done. */
function together(
  open: readonly InstallationNode[],
  { key, what, detail, all }: { key: string; what: string; detail: string; all: string },
  to: (node: InstallationNode) => string,
): Matter[] {
  const [first] = open;
  if (!first) return [];
  return [
    {
      key,
      level: 'warn',
      title: open.length === 1 ? `${first.name}: ${what}` : `${open.length} circuits ${what}`,
      detail: open.length === 1 ? detail : `${detail} Next: ${first.name}.`,
      to: open.length === 1 ? to(first) : all,
    },
  ];
}

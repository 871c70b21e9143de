import type { AlertKind } from '@loka/contract/alerts';
import type { HealthMatter } from '@loka/contract/health';
import type { InstallationNode } from '@loka/contract/installation';
import type { Site } from '@loka/contract/site';
import { sumOfParts } from '@loka/core/energy';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useColorScheme } from '@mui/material/styles';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { useSumOfEach } from '../api/live.js';
import { useAlerts, useHealth, useInstallation, usePoints } from '../api/useApi.js';
import { ConductorMarks } from '../shared/ConductorMarks.js';
import { Measured } from '../shared/Measured.js';
import { meteredParts } from '../shared/nodes.js';
import { Reading } from '../shared/Reading.js';
import { PeriodControl } from './PeriodControl.js';
import styles from './Head.module.css';

/** One line: site, supply at a glance, period, alerts, person. */
export function Head({ site }: { site: Site }) {
  return (
    <header className={styles.head}>
      <Link to="/board" className={styles.mark} aria-label="Loka, to the board">
        <svg viewBox="0 0 24 24" width="24" height="24" aria-hidden>
          <path d="M6 3v18M6 5.5h5M6 12h9M6 18.5h5" fill="none" stroke="var(--ink)" strokeWidth="3" />
          <circle cx="18" cy="12" r="3" fill="var(--accent)" />
        </svg>
        <span>Loka</span>
      </Link>
      <span className={styles.site}>{site.name}</span>
      <SupplyAtAGlance />
      <span className={styles.space} />
      <PeriodControl />
      <div className={styles.matters}>
        <Itself />
        <Protection />
      </div>
      <AlertCount />
      <Person />
    </header>
  );
}

function SupplyAtAGlance() {
  const { data: nodes } = useInstallation();
  const { data: points } = usePoints();
  const supply = nodes?.find((n) => n.kind === 'supply');
  const own = points?.filter((p) => p.nodeId === supply?.id) ?? [];
  const voltages = ['L1', 'L2', 'L3'].map((line) => ({
    line,
    point: own.find((p) => p.definition.quantity === 'voltage' && p.phase === line),
  }));
  const frequency = own.find((p) => p.definition.quantity === 'frequency');
  const power = own.find((p) => p.id === supply?.powerPointIds[0]);
  return (
    <div className={styles.supply}>
      {voltages.map(
        ({ line, point }) =>
          point && (
            <span key={line} className={styles.line}>
              <ConductorMarks phases={line} /> <Reading point={point} brief />
            </span>
          ),
      )}
      {frequency && <Reading point={frequency} brief />}
      {power && supply?.powerPointIds.length === 1 && (
        <Reading point={power} brief className={styles.power} />
      )}
      {supply && nodes && supply.powerPointIds.length !== 1 && <SummedPower supply={supply} nodes={nodes} />}
    </div>
  );
}

/** The power of a supply that has no meter of its own: by its lines, or by what is metered below it; marked as a sum. */
function SummedPower({ supply, nodes }: { supply: InstallationNode; nodes: readonly InstallationNode[] }) {
  const parts = supply.powerPointIds.length > 0 ? [supply] : meteredParts(nodes, supply.id);
  const ofLines = supply.powerPointIds.length > 0;
  // A line is not left out of the sum of its lines; of a metered place that says nothing the sum goes on without it.
  const sums = useSumOfEach(parts.map((p) => p.powerPointIds));
  const sum = sumOfParts(sums);
  if (!sum) return null;
  return (
    <span
      className={styles.power}
      title={
        ofLines
          ? 'The sum of its lines'
          : 'Nothing measures the supply: the sum of what is metered below it, without what has no meter'
      }
    >
      <span className="muted">Σ </span>
      <Measured value={sum.value} unit="W" />
      {sum.known < parts.length && (
        <span className="warn">
          {' '}
          {sum.known} of {parts.length}
        </span>
      )}
    </span>
  );
}

const MATTERS: Record<Exclude<AlertKind, 'limit'>, (n: number) => string> = {
  lockout: () => 'locked out',
  disagreement: (n) => (n === 1 ? 'contact disagrees' : 'contacts disagree'),
  blind: (n) => (n === 1 ? 'cut-off blind' : 'cut-offs blind'),
  missing: () => 'out of action',
  wiring: (n) => (n === 1 ? 'wiring fault' : 'wiring faults'),
};

/** What no longer protects, or holds a load off: on every screen, for as long as it is so. */
function Protection() {
  const { data = [] } = useAlerts();
  const now = data.filter((a) => a.returnedAt === null);
  return (
    <>
      {Object.entries(MATTERS).map(([kind, words]) => {
        const own = now.filter((a) => a.kind === kind);
        return (
          own.length > 0 && (
            <Link
              key={kind}
              to="/alerts"
              className={styles.matter}
              title={own.map((a) => `${a.name}: ${a.condition}`).join('\n')}
            >
              {own.length} {words(own.length)}
            </Link>
          )
        );
      })}
    </>
  );
}

/** Loka itself, when something is the matter with it: its database, its disk, its clock. */
function Itself() {
  const { data } = useHealth();
  const matters = data?.matters ?? [];
  const [first] = matters;
  if (!first) return null;
  return (
    <Link to="/settings" className={styles.matter} title={matters.map((m) => m.words).join('\n')}>
      {BRIEF[first.kind]}
      {matters.length > 1 ? ` +${matters.length - 1}` : ''}
    </Link>
  );
}

const BRIEF: Record<HealthMatter['kind'], string> = {
  database: 'database away',
  spool: 'readings wait',
  memory: 'readings not kept',
  lost: 'readings lost',
  refused: 'readings refused',
  events: 'events wait',
  disk: 'disk nearly full',
  'disk-unknown': 'disk not known',
  clock: 'clock was set',
  busy: 'server is late',
};

function AlertCount() {
  const { data } = useAlerts();
  const count = data?.length ?? 0;
  const unseen = data?.filter((a) => a.acknowledgedAt === null).length ?? 0;
  return (
    <Link
      to="/alerts"
      className={styles.alerts}
      data-level={unseen > 0 ? 'danger' : count > 0 ? 'seen' : 'none'}
      aria-live="polite"
    >
      {count === 0 ? 'no alerts' : `${count} alert${count === 1 ? '' : 's'}`}
    </Link>
  );
}

function Person() {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { colorScheme, setMode } = useColorScheme();
  const navigate = useNavigate();
  const dark = colorScheme === 'dark';
  return (
    <>
      <button
        type="button"
        className={styles.person}
        onClick={(e) => setAnchor(e.currentTarget)}
        aria-haspopup="menu"
      >
        Local person
      </button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <MenuItem
          onClick={() => {
            setAnchor(null);
            void navigate('/settings');
          }}
        >
          Settings
        </MenuItem>
        <MenuItem
          onClick={() => {
            setAnchor(null);
            setMode(dark ? 'light' : 'dark');
          }}
        >
          {dark ? 'Light sheet' : 'Dark sheet'}
        </MenuItem>
      </Menu>
    </>
  );
}

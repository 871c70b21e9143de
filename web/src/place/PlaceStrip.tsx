import type { InstallationNode } from '@loka/contract/installation';
import { NavLink, useSearchParams } from 'react-router';
import styles from './PlaceStrip.module.css';

/** The parts of a place's page, in the order of the job. */
export const PLACE_TABS = [
  'schedule',
  'now',
  'energy',
  'profile',
  'wiring',
  'calibration',
  'control',
  'history',
] as const;
export type PlaceTab = (typeof PLACE_TABS)[number];

const WORDS: Record<PlaceTab, string> = {
  schedule: 'Schedule',
  now: 'Now',
  energy: 'Energy',
  profile: 'Profile',
  wiring: 'Wiring',
  calibration: 'Calibration',
  control: 'Control',
  history: 'History',
};

const tabsOf = (node: InstallationNode): readonly PlaceTab[] =>
  node.kind === 'supply' || node.kind === 'board' ? PLACE_TABS : PLACE_TABS.filter((t) => t !== 'schedule');

/** The part that the URL asks for; a board shows its schedule first, all others what flows now. */
export function usePlaceTab(node: InstallationNode): PlaceTab {
  const [search] = useSearchParams();
  const asked = search.get('tab');
  const tabs = tabsOf(node);
  return tabs.find((t) => t === asked) ?? (tabs[0] as PlaceTab);
}

/** The strip of a place's page: each part is a link, and keeps what else is chosen. */
export function PlaceStrip({ node, tab }: { node: InstallationNode; tab: PlaceTab }) {
  const [search] = useSearchParams();
  const to = (part: PlaceTab) => {
    const next = new URLSearchParams(search);
    next.set('at', String(node.id));
    next.set('tab', part);
    next.delete('q');
    return `/board?${next.toString()}`;
  };
  return (
    <nav className={styles.strip} aria-label={`Parts of ${node.name}`}>
      {tabsOf(node).map((part) => (
        <NavLink
          key={part}
          to={to(part)}
          aria-current={part === tab ? 'page' : undefined}
          className={`${styles.part} ${part === tab ? styles.here : ''}`}
        >
          {WORDS[part]}
        </NavLink>
      ))}
    </nav>
  );
}

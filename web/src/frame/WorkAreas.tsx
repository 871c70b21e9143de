import { NavLink, useLocation, useSearchParams } from 'react-router';
import styles from './WorkAreas.module.css';

/** The work areas, in the order of the job. */
export const AREAS = [
  { path: '/board', name: 'Board' },
  { path: '/field', name: 'Field' },
  { path: '/bench', name: 'Bench' },
  { path: '/profiles', name: 'Profiles' },
  { path: '/balance', name: 'Balance' },
  { path: '/dashboards', name: 'Dashboards' },
  { path: '/alerts', name: 'Alerts' },
  { path: '/control', name: 'Control' },
];

/** What stays when one goes from one area to another: the selection, the period, and what it is set beside. */
export function useKept(): string {
  const [search] = useSearchParams();
  const kept = new URLSearchParams();
  for (const name of ['at', 'period', 'beside']) {
    const value = search.get(name);
    if (value) kept.set(name, value);
  }
  return kept.size > 0 ? `?${kept.toString()}` : '';
}

/** A slim row of words; at the foot of a phone's screen. */
export function WorkAreas() {
  const kept = useKept();
  const { pathname } = useLocation();
  return (
    <nav className={styles.areas} aria-label="Work areas">
      {AREAS.map(({ path, name }) => (
        <NavLink
          key={path}
          to={path === '/board' && pathname === '/board' ? '/board' : path + kept}
          className={({ isActive }) => `${styles.area} ${isActive ? styles.here : ''}`}
        >
          {name}
        </NavLink>
      ))}
    </nav>
  );
}

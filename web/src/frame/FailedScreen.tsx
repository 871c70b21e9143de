import { useEffect } from 'react';
import { useLocation, useRouteError } from 'react-router';
import { inWords } from '../api/client.js';
import { FailedState } from '../shared/states.js';

/** How often Loka is asked whether it is there again, ms. */
const AGAIN = 5000;

/**
 * Instead of a screen that could not be drawn, as when a part of it could not be fetched. Where nobody is there to press
 * anything, on a wall, it is loaded again as soon as Loka answers.
 */
export function FailedScreen() {
  const error = useRouteError();
  const { pathname } = useLocation();
  useEffect(() => {
    if (pathname !== '/wall') return;
    const timer = setInterval(() => {
      fetch('/api/health').then(
        (answer) => answer.ok && location.reload(),
        () => undefined, // not yet
      );
    }, AGAIN);
    return () => clearInterval(timer);
  }, [pathname]);
  return (
    <main style={{ padding: 20 }}>
      <FailedState
        error={error instanceof Error ? error : new Error(inWords(error))}
        retry={() => location.reload()}
      />
    </main>
  );
}

import { useSyncExternalStore } from 'react';

const QUERY = '(max-width: 760px)';

/** Whether the screen is a phone's, as the style sheets have it. */
export const useNarrow = (): boolean =>
  useSyncExternalStore(
    (listener) => {
      const query = matchMedia(QUERY);
      query.addEventListener('change', listener);
      return () => query.removeEventListener('change', listener);
    },
    () => matchMedia(QUERY).matches,
  );

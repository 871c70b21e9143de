import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import styles from './states.module.css';

/** A place where nothing is yet: what would be here, and the step that brings it. */
export function EmptyState({
  title,
  children,
  action,
}: {
  title: string;
  children?: ReactNode;
  action?: ReactNode;
}) {
  return (
    <div className={styles.empty}>
      <h2>{title}</h2>
      {children && <p className="muted">{children}</p>}
      {action}
    </div>
  );
}

/** Something could not be loaded: why, and how to try again. */
export function FailedState({ error, retry }: { error: Error; retry?: () => void }) {
  return (
    <div className={styles.failed} role="alert">
      <h2>This could not be loaded</h2>
      <p>{error.message}</p>
      {retry && (
        <Button variant="outlined" onClick={retry}>
          Try again
        </Button>
      )}
    </div>
  );
}

/** While something is on its way; still, so that nothing jumps when it is quick. */
export const LoadingState = () => (
  <div className={styles.loading} role="status">
    Loading …
  </div>
);

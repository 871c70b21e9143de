import type { Happening } from '@loka/contract/happenings';
import type { InstallationNode } from '@loka/contract/installation';
import { lazy, Suspense, useState, type ReactNode } from 'react';
import { serverNow } from '../api/clock.js';
import { usePeriod } from '../shared/period.js';

const CommentDialog = lazy(() => import('./CommentDialog.js'));

/** The dialog of a comment at a place: opened for a new one at an instant, at the period's end, or for one that is there. */
export function useCommentEditor(node: InstallationNode): {
  add: (t?: number) => void;
  edit: (comment: Happening) => void;
  dialog: ReactNode;
} {
  const { span, zone } = usePeriod();
  const [editing, setEditing] = useState<{ t: number; happening: Happening | null } | null>(null);
  return {
    add: (t = Math.min(serverNow(), span.end - 1)) => setEditing({ t, happening: null }),
    edit: (comment) => setEditing({ t: comment.t, happening: comment }),
    dialog: editing && (
      <Suspense fallback={null}>
        <CommentDialog
          node={node}
          t={editing.t}
          happening={editing.happening}
          zone={zone}
          onClose={() => setEditing(null)}
        />
      </Suspense>
    ),
  };
}

import type { Happening } from '@loka/contract/happenings';
import type { InstallationNode } from '@loka/contract/installation';
import { fromSiteClock, siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { api } from '../api/client.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useNotices } from '../shared/notices.js';
import { useSubmit } from '../shared/useSubmit.js';
import { InstantField } from '../shared/DateFields.js';

const LOCAL = "yyyy-MM-dd'T'HH:mm:ss";

/** A comment at an instant: put there, changed, or removed. */
export default function CommentDialog({
  node,
  t,
  happening,
  zone,
  onClose,
}: {
  node: InstallationNode;
  t: number;
  /** The comment that is changed; null for a new one. */
  happening: Happening | null;
  zone: string;
  onClose: () => void;
}) {
  const id = happening?.commentId ?? null;
  const [at, setAt] = useState(siteClock(zone, t, LOCAL));
  const [text, setText] = useState(happening?.says ?? '');
  const { attempt, say } = useNotices();
  const { dialog } = useSubmit(async () => {
    const body = { nodeId: node.id, t: fromSiteClock(zone, at), text };
    await api(id === null ? '/comments' : `/comments/${id}`, id === null ? 'POST' : 'PUT', body);
    onClose();
  });
  const remove = () =>
    void attempt(async () => {
      await api(`/comments/${id}`, 'DELETE');
      onClose();
      say('The comment was removed.', () =>
        api('/comments', 'POST', { nodeId: node.id, t, text: happening?.says }),
      );
    });
  return (
    <FormDialog
      title={id === null ? `A comment at ${node.name}` : `Comment at ${node.name}`}
      verb={id === null ? 'Add comment' : 'Save'}
      {...dialog}
      onClose={onClose}
      dirty={text !== (happening?.says ?? '')}
      extra={
        id !== null && (
          <Button color="error" onClick={remove}>
            Remove
          </Button>
        )
      }
    >
      <InstantField label="Instant" seconds value={at} onChange={setAt} />
      <TextField
        label="Comment"
        value={text}
        onChange={(e) => setText(e.target.value)}
        autoFocus
        multiline
        minRows={2}
        slotProps={{ htmlInput: { maxLength: 400 } }}
      />
    </FormDialog>
  );
}

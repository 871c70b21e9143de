import type { Point } from '@loka/contract/points';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { api } from '../api/client.js';
import { Confirm } from '../shared/Confirm.js';
import { useNotices } from '../shared/notices.js';

/** A point that is only written: a command that always sends the same can be sent from here. */
export function Command({ point }: { point: Point }) {
  const [asking, setAsking] = useState(false);
  const { attempt, say } = useNotices();
  const { name, send } = point.definition;
  if (send === undefined) return <span className="muted">only written</span>;
  return (
    <>
      <Button onClick={() => setAsking(true)}>Send {send}</Button>
      {asking && (
        <Confirm
          title={`${name}?`}
          verb={name}
          onClose={() => setAsking(false)}
          onConfirm={() =>
            void attempt(async () => {
              await api(`/points/${point.id}/send`, 'POST');
              say(`${point.deviceName}: ${name.toLowerCase()}, sent.`);
            })
          }
        >
          This writes {send} to {point.deviceName}. It cannot be taken back.
        </Confirm>
      )}
    </>
  );
}

import { LinkInput, type Link } from '@loka/contract/devices';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { mutate } from 'swr';
import { api, ApiError, inWords } from '../api/client.js';
import { Confirm } from '../shared/Confirm.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useNotices } from '../shared/notices.js';
import { Tick } from '../shared/Tick.js';
import { useProblemForm } from '../shared/useProblemForm.js';

/** A Modbus TCP address, with a way to try it before it is saved. */
export function LinkForm({ link, onClose }: { link?: Link; onClose: () => void }) {
  const [trial, setTrial] = useState<string | null>(null);
  const [removing, setRemoving] = useState(false);
  const { attempt, say } = useNotices();
  const form = useProblemForm(
    LinkInput,
    link
      ? {
          name: link.name,
          host: link.host,
          port: link.port,
          timeoutMs: link.timeoutMs,
          enabled: link.enabled,
        }
      : { name: '', host: '', port: 502, timeoutMs: 1000, enabled: true },
    async (values) => {
      await api(link ? `/links/${link.id}` : '/links', link ? 'PUT' : 'POST', values);
      await mutate('/links');
      onClose();
    },
  );
  const test = async () => {
    setTrial(null);
    if (!(await form.trigger(['host', 'port', 'timeoutMs']))) return;
    try {
      const { ms } = await api<{ ms: number }>('/links/test', 'POST', {
        ...form.getValues(),
        name: form.getValues('name') || 'trial',
      });
      setTrial(`It answers: connected in ${ms} ms.`);
    } catch (error) {
      const fault = error instanceof ApiError ? error.problem.errors?.[0] : undefined;
      if (fault && (fault.field === 'host' || fault.field === 'port'))
        form.setError(fault.field, { message: fault.message });
      else form.setProblem(inWords(error));
    }
  };
  const remove = () =>
    void attempt(async () => {
      const { name, host, port, timeoutMs, enabled } = link as Link;
      await api(`/links/${link?.id}`, 'DELETE');
      await mutate('/links');
      onClose();
      say(`The link “${name}” was taken off.`, () =>
        api('/links', 'POST', { name, host, port, timeoutMs, enabled }),
      );
    });
  return (
    <>
      <FormDialog
        title={link ? link.name : 'A new link, Modbus TCP'}
        verb={link ? 'Save' : 'Add link'}
        {...form.dialog}
        onClose={onClose}
        extra={
          <>
            <Button onClick={() => void test()}>Try it</Button>
            {link && (
              <Button color="error" onClick={() => setRemoving(true)}>
                Take off
              </Button>
            )}
          </>
        }
      >
        <TextField label="Name" autoFocus placeholder="For example Meter cabinet" {...form.text('name')} />
        <TextField label="Host" placeholder="192.168.1.40" {...form.text('host')} />
        <TextField label="Port" inputMode="numeric" {...form.text('port', true)} />
        <TextField label="Time-out, ms" inputMode="numeric" {...form.text('timeoutMs', true)} />
        {link && <Tick control={form.control} name="enabled" label="In use" />}
        {trial && (
          <p className="ok" role="status">
            {trial}
          </p>
        )}
      </FormDialog>
      {removing && link && (
        <Confirm
          title={`Take the link “${link.name}” off?`}
          verb={`Take ${link.name} off`}
          danger
          onConfirm={remove}
          onClose={() => setRemoving(false)}
        >
          Only a link without devices can be taken off; otherwise switch it off, so that its readings stay.
        </Confirm>
      )}
    </>
  );
}

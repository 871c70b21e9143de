import type { Dependent } from '@loka/contract/dependents';
import {
  BAUD_RATES,
  isModbusKind,
  isNetworkKind,
  LINK_KINDS,
  LinkInput,
  MQTT_VERSIONS,
  PARITIES,
  type Link,
  type MadeLink,
} from '@loka/contract/links';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useRef, useState } from 'react';
import { mutate } from 'swr';
import { api, ApiError, inWords } from '../api/client.js';
import { Choice } from '../shared/Choice.js';
import { Confirm } from '../shared/Confirm.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useNotices } from '../shared/notices.js';
import { RestsOnIt } from '../shared/RestsOnIt.js';
import { Tick } from '../shared/Tick.js';
import { useProblemForm } from '../shared/useProblemForm.js';
import { inputOf, LINK_WORDS, usualPort } from '../shared/linkKinds.js';
import { TokenDialog } from './TokenDialog.js';
import styles from './LinkForm.module.css';
import { DurationField } from '../shared/TypedField.js';

const options = (list: readonly (string | number)[]) =>
  list.map((value) => ({ value, label: String(value) }));

/** A way to reach devices, with a way to try it before it is saved. */
export function LinkForm({ link, onClose }: { link?: Link; onClose: () => void }) {
  const [trial, setTrial] = useState<string | null>(null);
  const [removing, setRemoving] = useState(false);
  const [resting, setResting] = useState<Dependent[] | null>(null);
  const anyway = useRef(false);
  const [made, setMade] = useState<MadeLink | null>(null);
  const { attempt, say } = useNotices();
  const form = useProblemForm(
    LinkInput,
    link ? { ...inputOf(link), password: '' } : { ...new LinkInput(), name: '', password: '' },
    async (values) => {
      const save = (anyway: boolean) =>
        api<MadeLink>(
          link ? `/links/${link.id}${anyway ? '?anyway=true' : ''}` : '/links',
          link ? 'PUT' : 'POST',
          sent(values),
        );
      const result = await save(anyway.current).catch((error: unknown) => {
        if (!(error instanceof ApiError && error.problem.dependents)) throw error;
        setResting(error.problem.dependents);
        return null;
      });
      if (result === null) return false;
      await mutate('/links');
      if (result.token) setMade(result);
      else onClose();
    },
    link?.version,
  );
  const [kind, tls] = form.watch(['kind', 'tls']);
  const [advanced, setAdvanced] = useState(false);
  const byNetwork = isNetworkKind(kind);
  const modbus = isModbusKind(kind);
  const chooseKind = (next: LinkInput['kind']) => {
    form.setValue('kind', next);
    if (!link) form.setValue('port', usualPort(next, tls));
    setTrial(null);
  };
  const test = async () => {
    setTrial(null);
    form.setProblem(null);
    if (!(await form.trigger(['host', 'port', 'timeoutMs', 'path']))) return;
    try {
      const { ms } = await api<{ ms: number }>('/links/test', 'POST', {
        ...sent(form.getValues()),
        name: form.getValues('name') || 'trial',
      });
      setTrial(kind === 'modbus-serial' ? 'The port opens.' : `It answers: connected in ${ms} ms.`);
    } catch (error) {
      const fault = error instanceof ApiError ? error.problem.errors?.[0] : undefined;
      if (fault && (fault.field === 'host' || fault.field === 'port' || fault.field === 'path'))
        form.setError(fault.field, { message: fault.message });
      else form.setProblem(inWords(error));
    }
  };
  const [host, port] = form.watch(['host', 'port']);
  const elsewhere = host !== link?.host || Number(port) !== link?.port;
  const remove = () =>
    void attempt(async () => {
      const before = inputOf(link as Link);
      await api(`/links/${link?.id}`, 'DELETE');
      await mutate('/links');
      onClose();
      const password = link?.hasPassword ? ' If you undo this, its password has to be typed again.' : '';
      say(`The link “${before.name}” was removed.${password}`, () => api('/links', 'POST', before));
    });
  const renew = () =>
    void attempt(async () => setMade(await api<MadeLink>(`/links/${link?.id}/token`, 'POST')));
  if (made?.token) return <TokenDialog linkId={made.id} token={made.token} onClose={onClose} />;
  return (
    <>
      <FormDialog
        title={link ? link.name : 'A new link'}
        verb={link ? 'Save' : 'Add link'}
        {...form.dialog}
        onClose={onClose}
        extra={
          <>
            {kind !== 'http-push' && <Button onClick={() => void test()}>Try it</Button>}
            {link && (
              <Button color="error" onClick={() => setRemoving(true)}>
                Remove
              </Button>
            )}
          </>
        }
      >
        <TextField label="Name" autoFocus placeholder="For example Meter cabinet" {...form.text('name')} />
        <Choice
          control={form.control}
          name="kind"
          label="How the devices are reached"
          disabled={link !== undefined}
          options={LINK_KINDS.map((value) => ({ value, label: LINK_WORDS[value] }))}
          onChange={(e) => chooseKind(e.target.value as LinkInput['kind'])}
        />
        {byNetwork && (
          <div className={styles.pair}>
            <TextField label="Host" placeholder="192.168.1.40" {...form.text('host')} />
            <TextField label="Port" inputMode="numeric" {...form.text('port', true)} />
          </div>
        )}
        {kind === 'modbus-serial' && (
          <>
            <TextField label="Serial port" placeholder="/dev/ttyUSB0" {...form.text('path')} />
            <div className={styles.three}>
              <Choice control={form.control} name="baudRate" label="Baud" options={options(BAUD_RATES)} />
              <Choice control={form.control} name="parity" label="Parity" options={options(PARITIES)} />
              <Choice control={form.control} name="stopBits" label="Stop bits" options={options([1, 2])} />
            </div>
          </>
        )}
        {kind === 'mqtt' && (
          <>
            <div className={styles.pair}>
              <TextField label="User" autoComplete="off" {...form.text('user')} />
              <TextField
                label={
                  !link?.hasPassword
                    ? 'Password'
                    : elsewhere
                      ? 'Password (type it again for another broker)'
                      : 'Password (kept)'
                }
                type="password"
                autoComplete="new-password"
                {...form.text('password')}
              />
            </div>
            <Tick control={form.control} name="tls" label="Encrypted (TLS)" />
            {tls && (
              <TextField
                label="Certificate of the authority, PEM"
                placeholder="Empty: those that this machine trusts"
                multiline
                minRows={2}
                maxRows={5}
                {...form.text('certificate')}
              />
            )}
          </>
        )}
        {kind === 'http-push' && (
          <p className="muted">
            A device or a script posts its readings with a token: SenML (RFC 8428), or any JSON object.{' '}
            {link && <Button onClick={renew}>Make another token</Button>}
          </p>
        )}
        {kind !== 'http-push' && (
          <div className={styles.pair}>
            <DurationField control={form.control} name="timeoutMs" label="Time-out" />
            {modbus ? (
              <TextField label="Retries" inputMode="numeric" {...form.text('retries', true)} />
            ) : (
              <Choice
                control={form.control}
                name="mqttVersion"
                label="MQTT version"
                options={options(MQTT_VERSIONS)}
              />
            )}
          </div>
        )}
        {kind !== 'http-push' && !advanced && (
          <div>
            <Button onClick={() => setAdvanced(true)}>More settings</Button>
          </div>
        )}
        {advanced && modbus && (
          <div className={styles.pair}>
            <DurationField control={form.control} name="pauseMs" label="Pause between requests" />
            <TextField
              label="Largest request, registers"
              inputMode="numeric"
              {...form.text('maxWords', true)}
            />
          </div>
        )}
        {advanced && kind === 'mqtt' && (
          <TextField
            label="Client id"
            {...form.text('clientId')}
            helperText={
              form.formState.errors.clientId?.message ??
              'With one, the broker keeps what comes while Loka is away'
            }
          />
        )}
        {link && <Tick control={form.control} name="enabled" label="In use" />}
        {trial && (
          <p className="ok" role="status">
            {trial}
          </p>
        )}
      </FormDialog>
      {resting && link && (
        <Confirm
          title={`Switch “${link.name}” off?`}
          verb={`Switch ${link.name} off`}
          danger
          onConfirm={() => {
            anyway.current = true;
            void form.submit().finally(() => (anyway.current = false));
          }}
          onClose={() => setResting(null)}
        >
          <RestsOnIt dependents={resting} />
        </Confirm>
      )}
      {removing && link && (
        <Confirm
          title={`Remove the link “${link.name}”?`}
          verb={`Remove ${link.name}`}
          danger
          onConfirm={remove}
          onClose={() => setRemoving(false)}
        >
          Only a link without devices can be removed; otherwise switch it off, so that its readings stay.
        </Confirm>
      )}
    </>
  );
}

/** An empty password is none that was typed: the one that is kept stays. */
const sent = ({ password, ...values }: LinkInput): LinkInput => (password ? { ...values, password } : values);

import { SwitchInput, type Switch } from '@loka/contract/control';
import { isReadable, isWritable } from '@loka/core/registers';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useInstallation, usePoints } from '../api/useApi.js';
import { Choice } from '../shared/Choice.js';
import { Confirm } from '../shared/Confirm.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useNotices } from '../shared/notices.js';
import { nodeTitle } from '../shared/nodes.js';
import { useProblemForm } from '../shared/useProblemForm.js';
import { usePointTitle } from '../shared/usePointTitle.js';
import { DurationField } from '../shared/TypedField.js';

/** Makes a switch of a point that is written and a point that reports the contact. */
export function SwitchForm({
  entity,
  at,
  onClose,
}: {
  entity?: Switch;
  at: number | null;
  onClose: () => void;
}) {
  const titleOf = usePointTitle();
  const { data: points = [] } = usePoints();
  const { data: nodes = [] } = useInstallation();
  const [removing, setRemoving] = useState(false);
  const { attempt } = useNotices();
  const node = nodes.find((n) => n.id === at && (n.kind === 'circuit' || n.kind === 'load'));
  const own = points.filter((p) => p.nodeId === node?.id && p.definition.quantity === 'contact-state');
  const form = useProblemForm(
    SwitchInput,
    entity
      ? {
          name: entity.name,
          nodeId: entity.nodeId,
          commandPointId: entity.commandPointId,
          statePointId: entity.statePointId,
          timeoutMs: entity.timeoutMs,
        }
      : {
          name: node?.name ?? '',
          ...(node ? { nodeId: node.id } : {}),
          ...(own.find((p) => isWritable(p.definition))
            ? { commandPointId: own.find((p) => isWritable(p.definition))?.id }
            : {}),
          ...(own.find((p) => isReadable(p.definition))
            ? { statePointId: own.find((p) => isReadable(p.definition))?.id }
            : {}),
          timeoutMs: 3000,
        },
    async (values) => {
      await api(entity ? `/switches/${entity.id}` : '/switches', entity ? 'PUT' : 'POST', values);
      await mutate('/switches');
      onClose();
    },
    entity?.version,
  );
  const remove = () =>
    void attempt(async () => {
      await api(`/switches/${entity?.id}`, 'DELETE');
      await mutate('/switches');
      onClose();
    });
  return (
    <>
      <FormDialog
        title={entity ? entity.name : 'A new switch'}
        verb={entity ? 'Save' : 'Add switch'}
        {...form.dialog}
        onClose={onClose}
        extra={
          entity && (
            <Button color="error" onClick={() => setRemoving(true)}>
              Remove
            </Button>
          )
        }
      >
        <TextField label="Name" {...form.text('name')} />
        <Choice
          control={form.control}
          name="nodeId"
          label="Switches"
          options={nodes
            .filter((n) => n.kind === 'circuit' || n.kind === 'load')
            .map((n) => ({ value: n.id, label: nodeTitle(n) }))}
        />
        <Choice
          control={form.control}
          name="commandPointId"
          label="Commanded by"
          options={points
            .filter((p) => isWritable(p.definition))
            .map((p) => ({ value: p.id, label: titleOf(p) }))}
        />
        <Choice
          control={form.control}
          name="statePointId"
          label="State read back from"
          options={points
            .filter((p) => isReadable(p.definition) && p.definition.quantity === 'contact-state')
            .map((p) => ({ value: p.id, label: titleOf(p) }))}
        />
        <DurationField control={form.control} name="timeoutMs" label="Report a mismatch after" />
      </FormDialog>
      {removing && entity && (
        <Confirm
          title={`Remove the switch “${entity.name}”?`}
          verb={`Remove ${entity.name}`}
          danger
          onConfirm={remove}
          onClose={() => setRemoving(false)}
        >
          The relay stays as it is; Loka no longer operates it. What was done with it stays in the list of
          operations.
        </Confirm>
      )}
    </>
  );
}

import { NodeInput, PROTECTIVE_DEVICES, type InstallationNode } from '@loka/contract/installation';
import { phasesIn, PURPOSES, type NodeKind, type SupplySystem } from '@loka/core/installation';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useSite } from '../api/useApi.js';
import { Choice } from '../shared/Choice.js';
import { Confirm } from '../shared/Confirm.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useNotices } from '../shared/notices.js';
import { PURPOSE_WORDS } from '../shared/purposeWords.js';
import { useProblemForm } from '../shared/useProblemForm.js';

const KIND_WORDS: Record<NodeKind, string> = {
  supply: 'supply',
  board: 'board',
  circuit: 'way',
  load: 'load',
};

/** The conductors that a place may have: those of its supply that reach it, and what it has. */
function phasesFor(
  system: SupplySystem,
  parent: InstallationNode | null,
  node: InstallationNode | undefined,
): string[] {
  const reach = parent?.phases.split(' ');
  return phasesIn(system).filter(
    (p) => p === node?.phases || !reach || p.split(' ').every((line) => reach.includes(line)),
  );
}

const phasesInWords = (phases: string): string =>
  phases.split(' ').length === 2 ? `${phases}, two-pole` : phases;

/** Adds a board, a way or a load below a place, or changes one. */
export default function NodeForm({
  node,
  parent,
  kind,
  way,
  onClose,
}: {
  node?: InstallationNode;
  parent: InstallationNode | null;
  kind: NodeKind;
  way?: string;
  onClose: () => void;
}) {
  const [removing, setRemoving] = useState(false);
  const { attempt, say } = useNotices();
  const { data } = useSite();
  const system = data?.site?.supplySystem ?? 'three-phase';
  const form = useProblemForm(
    NodeInput,
    node
      ? {
          kind: node.kind,
          parentId: node.parentId,
          name: node.name,
          way: node.way,
          phases: node.phases,
          protectiveDevice: node.protectiveDevice,
          ratedCurrent: node.ratedCurrent,
          flow: node.flow ?? null,
          ratedPower: node.ratedPower ?? null,
          powerFactor: node.powerFactor ?? null,
          purpose: node.purpose ?? null,
          storageCapacity: node.storageCapacity ?? null,
        }
      : {
          kind,
          parentId: parent?.id ?? null,
          name: '',
          way: way ?? '',
          phases: kind === 'circuit' ? 'L1' : (parent?.phases ?? 'L1 L2 L3'),
          protectiveDevice: kind === 'circuit' ? 'B' : null,
          ratedCurrent: kind === 'circuit' ? 16 : null,
          flow: null,
          ratedPower: null,
          powerFactor: null,
          purpose: null,
          storageCapacity: null,
        },
    async (values) => {
      await api(node ? `/installation/${node.id}` : '/installation', node ? 'PUT' : 'POST', values);
      await mutate('/installation');
      onClose();
    },
    node?.version,
  );
  const remove = () =>
    void attempt(async () => {
      const before = node as InstallationNode;
      await api(`/installation/${before.id}`, 'DELETE');
      await mutate('/installation');
      onClose();
      const { parentId, name, phases, protectiveDevice, ratedCurrent, flow, ratedPower, powerFactor } =
        before;
      const { purpose, storageCapacity } = before;
      say(`“${name}” was removed.`, () =>
        api('/installation', 'POST', {
          kind: before.kind,
          parentId,
          name,
          way: before.way,
          phases,
          protectiveDevice,
          ratedCurrent,
          flow,
          ratedPower,
          powerFactor,
          purpose,
          storageCapacity,
        }),
      );
    });
  const words = KIND_WORDS[kind];
  return (
    <>
      <FormDialog
        title={node ? node.name : `A new ${words}${parent ? ` on ${parent.name}` : ''}`}
        verb={node ? 'Save' : `Add ${words}`}
        {...form.dialog}
        onClose={onClose}
        extra={
          node &&
          node.kind !== 'supply' && (
            <Button color="error" onClick={() => setRemoving(true)}>
              Remove
            </Button>
          )
        }
      >
        <TextField label="Name" autoFocus {...form.text('name')} />
        {kind !== 'load' && kind !== 'supply' && (
          <TextField label={kind === 'circuit' ? 'Way' : 'Mark'} {...form.text('way')} />
        )}
        <Choice
          control={form.control}
          name="phases"
          label="Conductors"
          options={phasesFor(system, parent, node).map((p) => ({ value: p, label: phasesInWords(p) }))}
        />
        {kind !== 'load' && (
          <Choice
            control={form.control}
            name="protectiveDevice"
            label="Protective device"
            options={[
              { value: null, label: 'none' },
              ...PROTECTIVE_DEVICES.map((d) => ({
                value: d,
                label: d.length === 1 ? `${d} characteristic` : d,
              })),
            ]}
          />
        )}
        {kind !== 'load' && <TextField label="Rated current, A" {...form.text('ratedCurrent', true)} />}
        {(kind === 'circuit' || kind === 'load') && (
          <TextField label="Rated power, W" {...form.text('ratedPower', true)} />
        )}
        {(kind === 'circuit' || kind === 'load') && (
          <TextField label="Power factor, 1 for a heater" {...form.text('powerFactor', true)} />
        )}
        {(kind === 'circuit' || kind === 'load') && (
          <Choice
            control={form.control}
            name="flow"
            label="Its power"
            options={[
              { value: null, label: 'as its values and its name show' },
              { value: 'in', label: 'is only taken' },
              { value: 'both', label: 'may flow out: generation or storage' },
            ]}
          />
        )}
        {(kind === 'circuit' || kind === 'load') && (
          <Choice
            control={form.control}
            name="purpose"
            label="What it is for"
            options={[
              {
                value: null,
                label: node?.purposeShown
                  ? `as its name shows: ${PURPOSE_WORDS[node.purposeShown].toLowerCase()}`
                  : 'as its name shows',
              },
              ...PURPOSES.map((p) => ({ value: p, label: PURPOSE_WORDS[p] })),
            ]}
          />
        )}
        {(kind === 'circuit' || kind === 'load') && node?.purposeShown === 'storage' && (
          <TextField label="Storage capacity, Wh" {...form.text('storageCapacity', true)} />
        )}
      </FormDialog>
      {removing && node && (
        <Confirm
          title={`Remove “${node.name}”?`}
          verb={`Remove ${node.name}`}
          danger
          onConfirm={remove}
          onClose={() => setRemoving(false)}
        >
          Points that are assigned to it stay connected and keep their readings; they belong to no circuit
          then.
        </Confirm>
      )}
    </>
  );
}

import { CounterInput, type CounterRulesSeen } from '@loka/contract/doubts';
import type { Point } from '@loka/contract/points';
import { printInUnit } from '@loka/core/formats';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useCounterRules } from '../api/useApi.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useNotices } from '../shared/notices.js';
import { PointSelect } from '../shared/PointSelect.js';
import { LoadingState } from '../shared/states.js';
import { useProblemForm } from '../shared/useProblemForm.js';

const KILO = 1000;

/** What limits a counter: where it rolls over, how coarse it is, and the largest power that can be behind it. */
export function CounterDialog({ counters, onClose }: { counters: Point[]; onClose: () => void }) {
  const [pointId, setPointId] = useState(counters[0]?.id ?? 0);
  const { data } = useCounterRules(pointId);
  return data ? (
    <Fields
      key={pointId}
      pointId={pointId}
      rules={data}
      counters={counters}
      onPoint={setPointId}
      onClose={onClose}
    />
  ) : (
    <LoadingState />
  );
}

function Fields({
  pointId,
  rules,
  counters,
  onPoint,
  onClose,
}: {
  pointId: number;
  rules: CounterRulesSeen;
  counters: Point[];
  onPoint: (id: number) => void;
  onClose: () => void;
}) {
  const { say } = useNotices();
  const { set } = rules;
  const before = {
    modulus: set.modulus ? rules.modulus : null,
    resolution: set.resolution ? rules.resolution : null,
    largestPower: set.largestPower ? rules.largestPower : null,
  };
  const put = async (input: CounterInput) => {
    await api(`/points/${pointId}/counter`, 'PUT', input);
    await mutate(`/points/${pointId}/counter`);
  };
  const kilo = (value: number | null) => (value === null ? undefined : value / KILO);
  const form = useProblemForm(
    CounterInput,
    {
      modulus: kilo(before.modulus),
      resolution: kilo(before.resolution),
      largestPower: kilo(before.largestPower),
    } as CounterInput,
    async (typed) => {
      const base = (value: number | null | undefined) => (value == null ? null : value * KILO);
      await put({
        modulus: base(typed.modulus),
        resolution: base(typed.resolution),
        largestPower: base(typed.largestPower),
      });
      say('What it has counted is being recalculated.', () => put(before));
      onClose();
    },
  );
  const taken = (value: number | null, unit: string) =>
    value === null ? 'nowhere' : printInUnit(value, unit);
  const field = (name: 'modulus' | 'resolution' | 'largestPower', otherwise: string) => {
    const props = form.text(name, true);
    return {
      ...props,
      inputMode: 'decimal' as const,
      helperText: props.error ? props.helperText : otherwise,
    };
  };
  return (
    <FormDialog title="Counter" verb="Save" onClose={onClose} {...form.dialog}>
      <PointSelect label="Counter" points={counters} value={pointId} onChange={onPoint} />
      <TextField
        label="Rolls over at, kWh"
        {...field('modulus', `100000 for a display of 99 999.9. Left out: ${taken(rules.modulus, 'Wh')}.`)}
      />
      <TextField
        label="One count, kWh"
        {...field(
          'resolution',
          `Falls of up to two counts are jitter. Left out: ${taken(rules.resolution, 'Wh')}.`,
        )}
      />
      <TextField
        label="Largest power behind it, kW"
        {...field(
          'largestPower',
          `A faster rise is not counted until someone confirms it. Left out: ${taken(rules.largestPower, 'W')}, from the rating of the place.`,
        )}
      />
    </FormDialog>
  );
}

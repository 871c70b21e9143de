import { isReadable } from '@loka/core/points';
import type { Point } from '@loka/contract/points';
import { VirtualMeterInput, type VirtualMeter } from '@loka/contract/virtual';
import { isText } from '@loka/core/definitions';
import { PHASES, QUANTITIES, QUANTITY_NAMES, quantityInfo, type Quantity } from '@loka/core/quantities';
import { qualityInWords, type Sample } from '@loka/core/series';
import {
  computeAt,
  FormulaError,
  NOMINAL,
  parseFormula,
  unitFault,
  type Expression,
} from '@loka/core/virtual';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useReadings } from '../api/live.js';
import { useInstallation, usePoints, useSite } from '../api/useApi.js';
import { Choice } from '../shared/Choice.js';
import { FormDialog } from '../shared/FormDialog.js';
import { Measured } from '../shared/Measured.js';
import { nodeTitle } from '../shared/nodes.js';
import { useNotices } from '../shared/notices.js';
import { useProblemForm } from '../shared/useProblemForm.js';
import { InputRow } from './InputRow.js';
import { shortName } from './shortName.js';
import styles from './VirtualMeterList.module.css';
import { usePointTitle } from '../shared/usePointTitle.js';
import { DurationField } from '../shared/TypedField.js';

/** A virtual meter: its inputs under short names, the formula, checked for its units while one types, and what it reads. */
export default function VirtualMeterForm({ meter, onClose }: { meter?: VirtualMeter; onClose: () => void }) {
  const titleOf = usePointTitle();
  const { data: points = [] } = usePoints();
  const { data: nodes = [] } = useInstallation();
  const { attempt, say } = useNotices();
  const form = useProblemForm<VirtualMeterInput>(
    VirtualMeterInput,
    meter
      ? { ...meter }
      : {
          ...new VirtualMeterInput(),
          name: '',
          formula: '',
          inputs: [],
          quantity: 'active-power',
          phase: 'total',
          nodeId: null,
        },
    async ({ name, formula, inputs, quantity, phase, nodeId, intervalMs, version }) => {
      const body = { name, formula, inputs, quantity, phase, nodeId, intervalMs, version };
      await api(meter ? `/virtual-meters/${meter.pointId}` : '/virtual-meters', meter ? 'PUT' : 'POST', body);
      await Promise.all([mutate('/virtual-meters'), mutate('/points'), mutate('/installation')]);
      say(`${name} is computed from now on; the past follows from what its inputs have recorded.`);
      onClose();
    },
    meter?.version,
  );
  const [inputs = [], formula, quantity] = form.watch(['inputs', 'formula', 'quantity']);
  const usable = points.filter(
    (p) =>
      isReadable(p.definition) &&
      !isText(p.definition) &&
      p.id !== meter?.pointId &&
      !inputs.some((i) => i.pointId === p.id),
  );
  const checked = check(formula, inputs, points, quantity);
  const setInputs = (next: VirtualMeterInput['inputs']) =>
    form.setValue('inputs', next, { shouldDirty: true });
  const add = (point: Point) => {
    const name = shortName(
      point.definition.name,
      point.deviceName,
      inputs.map((i) => i.name),
    );
    setInputs([...inputs, { name, pointId: point.id }]);
    if (inputs.length === 0) form.setValue('formula', name);
    else if (isSum(formula)) form.setValue('formula', `${formula} + ${name}`);
  };
  const rename = (from: string, to: string) => {
    setInputs(inputs.map((i) => (i.name === from ? { ...i, name: to } : i)));
    form.setValue('formula', formula.replace(new RegExp(`\\b${from}\\b`, 'g'), to));
  };
  const remove = () =>
    void attempt(async () => {
      await api(`/virtual-meters/${meter?.pointId}`, 'DELETE');
      await Promise.all([mutate('/virtual-meters'), mutate('/points')]);
      onClose();
      say(`${meter?.name} was removed. Its readings stay.`, () =>
        api(`/virtual-meters/${meter?.pointId}/restore`, 'POST'),
      );
    });
  return (
    <FormDialog
      title={meter ? meter.name : 'A virtual meter'}
      verb={meter ? 'Save' : 'Add virtual meter'}
      wide
      {...form.dialog}
      busy={form.busy || checked.fault !== null}
      onClose={onClose}
      extra={
        meter && (
          <Button color="error" onClick={remove}>
            Remove
          </Button>
        )
      }
    >
      <TextField label="Name" autoFocus placeholder="For example Lighting" {...form.text('name')} />
      <h2>Computed from</h2>
      <div className={styles.inputs}>
        {inputs.map(({ name, pointId }, index) => (
          <InputRow
            key={pointId}
            name={name}
            point={points.find((p) => p.id === pointId)}
            used={inputs.map((i) => i.name)}
            onRename={(to) => rename(name, to)}
            onRemove={() => setInputs(inputs.filter((_, at) => at !== index))}
          />
        ))}
      </div>
      <div className={styles.quick}>
        <select
          aria-label="Add an input"
          value=""
          onChange={(e) => {
            const point = points.find((p) => p.id === Number(e.target.value));
            if (point) add(point);
          }}
        >
          <option value="" disabled>
            Add an input
          </option>
          {usable
            .filter(
              (p) =>
                p.definition.quantity === quantity ||
                inputs.length > 0 ||
                quantity !== 'active-power' ||
                p.definition.quantity === 'current',
            )
            .map((p) => (
              <option key={p.id} value={p.id}>
                {titleOf(p)}
              </option>
            ))}
        </select>
        <Button
          disabled={inputs.length < 2}
          onClick={() => form.setValue('formula', inputs.map((i) => i.name).join(' + '))}
        >
          Sum
        </Button>
        <Button
          disabled={inputs.length < 2}
          onClick={() => form.setValue('formula', inputs.map((i) => i.name).join(' - '))}
        >
          First less the others
        </Button>
        <span className="muted">
          “{NOMINAL}” stands for the nominal voltage; what is computed with it is uncertain. “first(voltage,{' '}
          {NOMINAL})” uses it only while the voltage has no reading.
        </span>
      </div>
      <TextField
        label="Formula"
        placeholder="bakery + shop"
        {...form.text('formula')}
        error={checked.fault !== null && formula !== ''}
        helperText={
          formula === ''
            ? 'Names, numbers, + - * /, parentheses, min, max, abs, first'
            : (checked.fault ?? 'The units agree.')
        }
        slotProps={{ htmlInput: { className: 'measured' } }}
      />
      {checked.expression && <Result expression={checked.expression} inputs={inputs} quantity={quantity} />}
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: '0 10px' }}>
        <Choice
          control={form.control}
          name="quantity"
          label="It gives"
          options={QUANTITY_NAMES.map((q) => ({ value: q, label: QUANTITIES[q].label }))}
        />
        <Choice
          control={form.control}
          name="phase"
          label="Conductor"
          options={[{ value: null, label: 'none' }, ...PHASES.map((p) => ({ value: p, label: p }))]}
        />
        <Choice
          control={form.control}
          name="nodeId"
          label="Belongs to"
          options={[
            { value: null, label: 'no circuit' },
            ...nodes.map((n) => ({ value: n.id, label: nodeTitle(n) })),
          ]}
        />
        <DurationField control={form.control} name="intervalMs" label="Every" />
      </div>
    </FormDialog>
  );
}

/** What the formula gives with the readings of this moment. */
function Result({
  expression,
  inputs,
  quantity,
}: {
  expression: Expression;
  inputs: VirtualMeterInput['inputs'];
  quantity: Quantity;
}) {
  const readings = useReadings(inputs.map((i) => i.pointId));
  const { data } = useSite();
  const now = new Map<string, Sample | null>(
    inputs.map(({ name }, i) => {
      const reading = readings[i];
      return [name, reading ? { t: reading.t, v: reading.v, q: reading.q } : null];
    }),
  );
  const { v, q } = computeAt(expression, 0, now, data?.site?.nominalVoltage ?? 230);
  return (
    <p role="status">
      <Measured value={v} unit={quantityInfo(quantity).unit} className={styles.result} />{' '}
      <span className="muted">{qualityInWords(q)}</span>
    </p>
  );
}

function check(
  formula: string,
  inputs: VirtualMeterInput['inputs'],
  points: readonly Point[],
  quantity: Quantity,
): { fault: string | null; expression: Expression | null } {
  try {
    const expression = parseFormula(formula);
    const quantities = new Map(
      inputs.flatMap(({ name, pointId }) => {
        const point = points.find((p) => p.id === pointId);
        return point ? [[name, point.definition.quantity] as const] : [];
      }),
    );
    const fault = unitFault(expression, quantities, quantity);
    return { fault, expression: fault ? null : expression };
  } catch (error) {
    if (error instanceof FormulaError) return { fault: error.message, expression: null };
    throw error;
  }
}

/** Whether a formula is a plain sum of names, to which a further input is simply added. */
const isSum = (formula: string): boolean => /^\s*\w+(\s*\+\s*\w+)*\s*$/.test(formula);

import { AlertRuleInput, type AlertRule } from '@loka/contract/alerts';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { usePoints } from '../api/useApi.js';
import { Choice } from '../shared/Choice.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useNotices } from '../shared/notices.js';
import { unitOf } from '../shared/nodes.js';
import { Reading } from '../shared/Reading.js';
import { Tick } from '../shared/Tick.js';
import { useProblemForm } from '../shared/useProblemForm.js';
import { usePointTitle } from '../shared/usePointTitle.js';
import { DurationField, QuantityField } from '../shared/TypedField.js';
import { isMeasured } from '../shared/isMeasured.js';

/** A limit to watch. */
export function AlertRuleForm({ rule, onClose }: { rule?: AlertRule; onClose: () => void }) {
  const titleOf = usePointTitle();
  const { data: points = [] } = usePoints();
  const { attempt, say } = useNotices();
  const form = useProblemForm(
    AlertRuleInput,
    rule
      ? {
          name: rule.name,
          pointId: rule.pointId,
          direction: rule.direction,
          limit: rule.limit,
          deadband: rule.deadband,
          onDelayMs: rule.onDelayMs,
          offDelayMs: rule.offDelayMs,
          enabled: rule.enabled,
        }
      : { name: '', direction: 'above', deadband: 0, onDelayMs: 5000, offDelayMs: 5000, enabled: true },
    async (values) => {
      await api(rule ? `/alert-rules/${rule.id}` : '/alert-rules', rule ? 'PUT' : 'POST', values);
      await mutate('/alert-rules');
      onClose();
    },
    rule?.version,
  );
  const point = points.find((p) => p.id === form.watch('pointId'));
  const unit = point ? unitOf(point) : '';
  const remove = () =>
    void attempt(async () => {
      const { id: _id, phase: _phase, missing: _missing, ...input } = rule as AlertRule;
      await api(`/alert-rules/${rule?.id}`, 'DELETE');
      await mutate('/alert-rules');
      onClose();
      say(`“${input.name}” is no longer watched.`, () => api('/alert-rules', 'POST', input));
    });
  return (
    <FormDialog
      title={rule ? rule.name : 'A new alert'}
      verb={rule ? 'Save' : 'Add alert'}
      {...form.dialog}
      onClose={onClose}
      extra={
        rule && (
          <Button color="error" onClick={remove}>
            Remove
          </Button>
        )
      }
    >
      <TextField label="Name" autoFocus placeholder="For example Low voltage L2" {...form.text('name')} />
      <Choice
        control={form.control}
        name="pointId"
        label="Point"
        options={points.filter((p) => isMeasured(p)).map((p) => ({ value: p.id, label: titleOf(p) }))}
      />
      {point && (
        <p className="muted">
          Reads <Reading point={point} /> now.
        </p>
      )}
      <Choice
        control={form.control}
        name="direction"
        label="Alert when"
        options={[
          { value: 'above', label: 'above the limit' },
          { value: 'below', label: 'below the limit' },
        ]}
      />
      <QuantityField control={form.control} name="limit" label="Limit" unit={unit} />
      <QuantityField control={form.control} name="deadband" label="Deadband" unit={unit} />
      <DurationField control={form.control} name="onDelayMs" label="On-delay" />
      <DurationField control={form.control} name="offDelayMs" label="Off-delay" />
      <Tick control={form.control} name="enabled" label="Watch it" />
    </FormDialog>
  );
}

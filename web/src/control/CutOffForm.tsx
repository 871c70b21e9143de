import { CutOffRuleInput, type CutOffRule, type Switch } from '@loka/contract/control';
import { quantityInfo } from '@loka/core/quantities';
import Button from '@mui/material/Button';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { usePoints } from '../api/useApi.js';
import { Choice } from '../shared/Choice.js';
import { LimitAdvice } from './LimitAdvice.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useNotices } from '../shared/notices.js';
import { Tick } from '../shared/Tick.js';
import { useProblemForm } from '../shared/useProblemForm.js';
import { usePointTitle } from '../shared/usePointTitle.js';
import { DurationField, QuantityField } from '../shared/TypedField.js';
import { isMeasured } from '../shared/isMeasured.js';

/** An overload cut-off: which switch opens, when which reading stays above which limit. */
export function CutOffForm({
  entity,
  switches,
  onClose,
}: {
  entity?: CutOffRule;
  switches: Switch[];
  onClose: () => void;
}) {
  const { data: points = [] } = usePoints();
  const { attempt, say } = useNotices();
  const form = useProblemForm(
    CutOffRuleInput,
    entity
      ? {
          switchId: entity.switchId,
          pointId: entity.pointId,
          limit: entity.limit,
          delayMs: entity.delayMs,
          ignoreAfterOnMs: entity.ignoreAfterOnMs,
          blindAfterMs: entity.blindAfterMs,
          openWhenBlind: entity.openWhenBlind,
          enabled: entity.enabled,
        }
      : {
          ...(switches[0] ? { switchId: switches[0].id } : {}),
          delayMs: 2000,
          ignoreAfterOnMs: 5000,
          blindAfterMs: 60_000,
          openWhenBlind: false,
          enabled: true,
        },
    async (values) => {
      await api(entity ? `/cut-off-rules/${entity.id}` : '/cut-off-rules', entity ? 'PUT' : 'POST', values);
      await mutate('/cut-off-rules');
      onClose();
    },
    entity?.version,
  );
  const titleOf = usePointTitle();
  const nodeId = switches.find((s) => s.id === form.watch('switchId'))?.nodeId;
  const measured = points.filter(isMeasured);
  const sorted = [
    ...measured.filter((p) => p.nodeId === nodeId),
    ...measured.filter((p) => p.nodeId !== nodeId),
  ];
  const point = points.find((p) => p.id === form.watch('pointId'));
  const limit = Number(form.watch('limit'));
  const remove = () =>
    void attempt(async () => {
      const {
        id: _id,
        tripped: _tripped,
        decision: _decision,
        missing: _missing,
        ...rule
      } = entity as CutOffRule;
      await api(`/cut-off-rules/${entity?.id}`, 'DELETE');
      await mutate('/cut-off-rules');
      onClose();
      say('The cut-off was removed.', () => api('/cut-off-rules', 'POST', rule));
    });
  return (
    <FormDialog
      title={entity ? 'Overload cut-off' : 'A new overload cut-off'}
      verb={entity ? 'Save' : 'Add cut-off'}
      {...form.dialog}
      onClose={onClose}
      extra={
        entity && (
          <Button color="error" onClick={remove}>
            Remove
          </Button>
        )
      }
    >
      <Choice
        control={form.control}
        name="switchId"
        label="Opens the switch"
        options={switches.map((s) => ({ value: s.id, label: s.name }))}
      />
      <Choice
        control={form.control}
        name="pointId"
        label="When this reading"
        options={sorted.map((p) => ({ value: p.id, label: titleOf(p) }))}
      />
      <QuantityField
        control={form.control}
        name="limit"
        label="Stays above"
        unit={point ? quantityInfo(point.definition.quantity).unit : ''}
      />
      {point && <LimitAdvice point={point} limit={limit} />}
      <DurationField control={form.control} name="delayMs" label="For" />
      <DurationField control={form.control} name="ignoreAfterOnMs" label="Ignored after closing" />
      <DurationField control={form.control} name="blindAfterMs" label="Report as blind after" />
      <Tick control={form.control} name="openWhenBlind" label="Open the switch when it is blind" />
      <Tick control={form.control} name="enabled" label="Armed" />
    </FormDialog>
  );
}

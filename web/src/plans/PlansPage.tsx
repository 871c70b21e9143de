import type { Plan } from '@loka/contract/plans';
import { EMPTY_PLAN } from '@loka/core/plans';
import Button from '@mui/material/Button';
import { lazy, Suspense, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { usePlans } from '../api/useApi.js';
import { Confirm } from '../shared/Confirm.js';
import { useNotices } from '../shared/notices.js';
import { EmptyState, FailedState, LoadingState } from '../shared/states.js';
import { usePlanFacts, type PlanFacts } from './planFacts.js';
import { PlanSheet } from './PlanSheet.js';
import styles from './PlansPage.module.css';

const PlanEditor = lazy(() => import('./PlanEditor.js'));

/** Floor plans: where in the building the circuits, devices and outlets are. */
export default function PlansPage() {
  const { id } = useParams();
  const [search] = useSearchParams();
  const facts = usePlanFacts();
  const { data: plans, error, mutate: again } = usePlans();
  const navigate = useNavigate();
  const { attempt } = useNotices();
  if (error && !plans) return <FailedState error={error} retry={() => void again()} />;
  if (!plans || !facts) return <LoadingState />;
  const create = () =>
    void attempt(async () => {
      const made = await api<Plan>('/plans', 'POST', { name: 'Ground floor', content: EMPTY_PLAN });
      await mutate('/plans');
      await navigate(`/field/plans/${made.id}?edit`);
    });
  const chosen = id === undefined ? plans[0] : plans.find((p) => String(p.id) === id);
  if (!chosen)
    return (
      <EmptyState
        title={id === undefined ? 'No floor plan yet' : 'This plan is not there'}
        action={
          <Button variant="contained" onClick={create}>
            Draw a floor plan
          </Button>
        }
      >
        Draw the rooms as outlines, and put circuits, devices and outlets where they are. Live power shows
        there.
      </EmptyState>
    );
  if (search.has('edit'))
    return (
      <Suspense fallback={<LoadingState />}>
        <PlanEditor key={chosen.id} plan={chosen} facts={facts} />
      </Suspense>
    );
  return <One plan={chosen} plans={plans} facts={facts} onCreate={create} />;
}

function One({
  plan,
  plans,
  facts,
  onCreate,
}: {
  plan: Plan;
  plans: Plan[];
  facts: PlanFacts;
  onCreate: () => void;
}) {
  const [removing, setRemoving] = useState(false);
  const { attempt, say } = useNotices();
  const navigate = useNavigate();
  const remove = () =>
    void attempt(async () => {
      await api(`/plans/${plan.id}`, 'DELETE');
      await mutate('/plans');
      await navigate('/field/plans');
      say(`${plan.name} was removed.`, () =>
        api('/plans', 'POST', { name: plan.name, content: plan.content }).then(() => mutate('/plans')),
      );
    });
  return (
    <div className={styles.page}>
      <div className={styles.head}>
        <Link to="/field">Field</Link>
        {plans.map((p) => (
          <Link
            key={p.id}
            to={`/field/plans/${p.id}`}
            aria-current={p.id === plan.id ? 'page' : undefined}
            className={styles.tab}
          >
            {p.name}
          </Link>
        ))}
        <span className={styles.space} />
        <Button onClick={() => setRemoving(true)} color="error">
          Remove
        </Button>
        <Button variant="outlined" onClick={onCreate}>
          Another plan
        </Button>
        <Button variant="contained" component={Link} to={`/field/plans/${plan.id}?edit`}>
          Change
        </Button>
      </div>
      <h1 className="spoken">{plan.name}</h1>
      <div className={styles.plan}>
        <PlanSheet content={plan.content} facts={facts} label={plan.name} />
      </div>
      {plan.content.marks.some((m) => m.note || m.kind === 'outlet') && <Notes plan={plan} facts={facts} />}
      {removing && (
        <Confirm
          title={`Remove “${plan.name}”?`}
          verb="Remove it"
          danger
          onConfirm={remove}
          onClose={() => setRemoving(false)}
        >
          Dashboards that show it will say so. For a few seconds it can be brought back.
        </Confirm>
      )}
    </div>
  );
}

/** What is behind which appliance, to be read without pointing at it. */
const Notes = ({ plan, facts }: { plan: Plan; facts: PlanFacts }) => (
  <section aria-label="Notes">
    <h2>What is where</h2>
    <ul className={styles.notes}>
      {plan.content.marks
        .filter((m) => m.note || m.kind === 'outlet')
        .map((m) => (
          <li key={m.id}>
            <b>
              {m.kind === 'device'
                ? (facts.devices.find((d) => d.id === m.ref)?.name ?? 'no longer there')
                : m.name || facts.nodes.find((n) => n.id === m.ref)?.name}
            </b>{' '}
            {m.note}
          </li>
        ))}
    </ul>
  </section>
);

import type { Plan } from '@loka/contract/plans';
import { usePlanFacts } from '../../plans/planFacts.js';
import { PlanSheet } from '../../plans/PlanSheet.js';

/** A floor plan with what flows where. */
export default function PlanElement({ plan }: { plan: Plan }) {
  const facts = usePlanFacts();
  if (!facts) return <p className="muted">Loading …</p>;
  return <PlanSheet content={plan.content} facts={facts} label={plan.name} />;
}

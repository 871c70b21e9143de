import type { InstallationNode } from '@loka/contract/installation';
import Button from '@mui/material/Button';
import { useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { ApiError, inWords } from '../../api/client.js';
import { useNow } from '../../api/clock.js';
import { useBackup } from '../../api/useApi.js';
import { useWaits } from '../../shared/InOrder.js';
import profiles from '../Profiles.module.css';
import { Sentences } from '../Sentences.js';
import { useCopySentences } from '../useCopySentences.js';
import { backupSays } from './backupSays.js';
import { Course } from './Course.js';
import { HowLong } from './HowLong.js';
import { backupAddress, putQuestion, questionOf, roundedUp, type Question } from './question.js';
import { QuestionForm } from './QuestionForm.js';

/** Whether a backup source carries a place, alone or with others: tried on what was recorded. */
export function Backup({
  node,
  nodes,
  from,
  to,
  zone,
}: {
  node: InstallationNode;
  nodes: InstallationNode[];
  from: number;
  to: number;
  zone: string;
}) {
  const [search, setSearch] = useSearchParams();
  const now = useNow(60_000);
  const [at, setAt] = useState<number | null>(null);
  const measured = useMemo(() => nodes.filter((n) => n.powerPointIds.length > 0), [nodes]);
  const givers = measured.filter((n) => n.feedsIn);
  const others = useMemo(
    () => measured.filter((n) => !n.feedsIn && !isAlong(nodes, n, node) && n.kind !== 'supply'),
    [measured, nodes, node],
  );
  const asked = questionOf(search);
  // A place that is gone, or that is looked at itself now, is not asked for.
  const question: Question = {
    ...asked,
    also: asked.also.filter((id) => others.some((n) => n.id === id)),
    sun: asked.sun && givers.some((n) => n.id === asked.sun?.node) ? asked.sun : null,
  };
  const { data, error, isLoading } = useBackup(backupAddress(node.id, from, to, question, at));
  const answer = data?.loads[0]?.nodeId === node.id ? data : undefined;
  useWaits(!answer && !error);
  const change = (next: Question) => {
    setAt(null);
    setSearch(
      (before) => {
        putQuestion(before, next);
        return before;
      },
      { replace: true },
    );
  };
  const faults = new Map(
    error instanceof ApiError
      ? (error.problem.errors ?? []).map((f) => [f.field.split('.')[0] as string, f.message])
      : [],
  );
  const nameOf = (id: number) => nodes.find((n) => n.id === id)?.name ?? 'a place that is gone';
  const sentences = answer && !error ? backupSays(answer, nameOf, zone, now) : [];
  const copy = useCopySentences();
  const need = answer?.need;
  return (
    <div className={profiles.both}>
      <section aria-label="Backup" aria-busy={isLoading}>
        <header className={profiles.title}>
          <h2>Does a backup source carry it?</h2>
          <span className={profiles.space} />
          {sentences.length > 0 && <Button onClick={() => copy(sentences)}>Copy all</Button>}
        </header>
        <QuestionForm question={question} others={others} givers={givers} faults={faults} onChange={change} />
        {error && faults.size === 0 && <p role="alert">{inWords(error)}</p>}
        {error && faults.size > 0 && <p className="muted">Correct what is marked, and the answer follows.</p>}
        {answer && !error && sentences.length === 0 && (
          <p className="muted">Nothing was read in this period, so nothing can be said about it.</p>
        )}
        {!answer && !error && <p className="muted">Working it out …</p>}
        <Sentences all={sentences} answer />
        {need && !error && (
          <Button
            onClick={() =>
              change({
                ...question,
                continuous: roundedUp(need.continuous),
                peak: roundedUp(Math.max(need.peak, need.continuous)),
                energy: roundedUp(need.energy),
              })
            }
          >
            Try the least that carries it
          </Button>
        )}
      </section>
      {answer && !error && sentences.length > 0 && (
        <div>
          <HowLong answer={answer} zone={zone} shown={answer.course?.start ?? null} onChoose={setAt} />
          {answer.course && (
            <Course
              course={answer.course}
              source={answer.source}
              zone={zone}
              starts={answer.outages.starts}
              isWorst={answer.course.start === answer.figures.worst?.start}
              onChoose={setAt}
            />
          )}
        </div>
      )}
    </div>
  );
}

/** Whether one lies behind the other, or is it. */
function isAlong(nodes: readonly InstallationNode[], a: InstallationNode, b: InstallationNode): boolean {
  const above = (from: InstallationNode, what: InstallationNode): boolean => {
    for (let n: InstallationNode | undefined = from; n; n = nodes.find((m) => m.id === n?.parentId))
      if (n.id === what.id) return true;
    return false;
  };
  return above(a, b) || above(b, a);
}

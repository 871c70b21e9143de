import type { InstallationNode } from '@loka/contract/installation';
import type { Site } from '@loka/contract/site';
import type { PlaceWhatIf } from '@loka/contract/whatIf';
import type { BeforeAfter, Yearly } from '@loka/core/profile';
import Button from '@mui/material/Button';
import { useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { ApiError, inWords } from '../../api/client.js';
import { useWhatIf } from '../../api/useApi.js';
import { Measured } from '../../shared/Measured.js';
import { PlainTable } from '../../shared/PlainTable.js';
import { amount } from '../parts.js';
import profiles from '../Profiles.module.css';
import { Sentences } from '../Sentences.js';
import { useCopySentences } from '../useCopySentences.js';
import { MeanDay } from './MeanDay.js';
import { asksSomething, NOTHING_ELSE, putQuestion, questionOf, type Question } from './question.js';
import styles from './WhatIf.module.css';
import { WhatIfForm, type HoursFile } from './WhatIfForm.js';
import { whatIfSays } from './whatIfSays.js';

/** What a year would take if a load did something else, or with a plant or a store beside the supply. */
export function WhatIf({
  node,
  nodes,
  from,
  to,
  site,
}: {
  node: InstallationNode;
  nodes: InstallationNode[];
  from: number;
  to: number;
  site: Site;
}) {
  const [search, setSearch] = useSearchParams();
  const [file, setFile] = useState<HoursFile | { fault: string } | null>(null);
  const measured = useMemo(() => nodes.filter((n) => n.powerPointIds.length > 0), [nodes]);
  const givers = measured.filter((n) => n.feedsIn);
  const places = measured.filter((n) => n.id !== node.id && !n.feedsIn && n.kind !== 'supply');
  const isSupply = node.kind === 'supply';
  const question: Question = isSupply ? { ...questionOf(search), change: 'none' } : questionOf(search);
  // A file that cannot be read is put right first; so is a plant of which nobody knows yet what it gives.
  const waits =
    !asksSomething(question) ||
    (question.roof > 0 && (file ? 'fault' in file : question.like === null)) ||
    (question.change === 'instead' && question.instead === null);
  const hoursOfYear = file && 'text' in file && question.roof > 0 ? file.text : null;
  const { data, error, isLoading } = useWhatIf(
    node.id,
    waits ? null : { ...question, from, to, hoursOfYear },
  );
  const answer = !waits && !error && data?.nodeId === node.id ? data : undefined;
  const change = (next: Question) =>
    setSearch(
      (before) => {
        putQuestion(before, next);
        return before;
      },
      { replace: true },
    );
  const faults = new Map(
    !waits && error instanceof ApiError
      ? (error.problem.errors ?? []).map((f) => [f.field.split('.')[0] as string, f.message])
      : [],
  );
  const { roof, store } = question;
  const hasStore = nodes.some((n) => n.purposeShown === 'storage');
  const sentences = answer ? whatIfSays(answer, node.name, site, { roof, store, hasStore }) : [];
  const copy = useCopySentences();
  return (
    <div className={profiles.both}>
      <section aria-label="What if" aria-busy={isLoading}>
        <header className={profiles.title}>
          <h2>What if</h2>
          <span className={profiles.space} />
          {asksSomething(question) && <Button onClick={() => change(NOTHING_ELSE)}>As it is</Button>}
          {sentences.length > 0 && <Button onClick={() => copy(sentences)}>Copy all</Button>}
        </header>
        <WhatIfForm
          question={question}
          isSupply={isSupply}
          places={places}
          givers={givers}
          file={file}
          faults={faults}
          onFile={setFile}
          onChange={change}
        />
        {!waits && error && faults.size === 0 && <p role="alert">{inWords(error)}</p>}
        {!waits && error && faults.size > 0 && (
          <p className="muted">Correct what is marked, and the answer follows.</p>
        )}
        {waits && <p className="muted">Choose what should change, and see a year with it and without it.</p>}
        {!waits && !answer && !error && <p className="muted">Working it out …</p>}
        {answer && sentences.length === 0 && (
          <p className="muted">
            {answer.known > 0
              ? 'Nothing measures the supply, so nothing can be said of what a plant or a store would do to it.'
              : 'Nothing was read in this period, so nothing can be said about it.'}
          </p>
        )}
        <Sentences all={sentences} answer />
      </section>
      {answer && sentences.length > 0 && (
        <div>
          <Years answer={answer} name={node.name} site={site} />
          <MeanDay {...pictureOf(answer, node.name)} />
        </div>
      )}
    </div>
  );
}

/** The load where it is what changes, else the site. */
const pictureOf = ({ load, supply }: PlaceWhatIf, name: string): { of: BeforeAfter; title: string } =>
  load ? { of: load, title: name } : { of: supply as BeforeAfter, title: 'The site' };

/** A year before and after. */
function Years({ answer, name, site }: { answer: PlaceWhatIf; name: string; site: Site }) {
  const { load, supply } = answer;
  return (
    <PlainTable head={['A year', 'as it is#', 'then#', 'difference#']}>
      {load && <Rows title={name} of={load} site={site} />}
      {supply && (
        <Rows
          title={answer.isSummed ? 'What is measured behind the supply' : 'From the supply'}
          of={supply}
          site={site}
        />
      )}
    </PlainTable>
  );
}

function Rows({ title, of: { before, after }, site }: { title: string; of: BeforeAfter; site: Site }) {
  const { price, carbon } = site;
  const rows: { label: string; unit: string; of: (y: Yearly) => number | null }[] = [
    { label: 'taken', unit: 'Wh', of: (y) => y.taken },
    ...(before.given + after.given > 1 ? [{ label: 'given', unit: 'Wh', of: (y: Yearly) => y.given }] : []),
    { label: 'highest quarter-hour', unit: 'W', of: (y) => y.highest?.watts ?? null },
    ...(carbon === null ? [] : [{ label: 'CO₂', unit: 'g', of: (y: Yearly) => (y.taken / 1000) * carbon }]),
  ];
  return (
    <>
      <tr className={styles.part}>
        <th colSpan={4} scope="colgroup">
          {title}
        </th>
      </tr>
      {rows.map(({ label, unit, of }) => {
        const [a, b] = [of(before), of(after)];
        return (
          <tr key={label}>
            <td>{label}</td>
            <td className="number">
              <Measured value={a} unit={unit} />
            </td>
            <td className="number">
              <Measured value={b} unit={unit} />
            </td>
            <td className="number">
              {a === null || b === null ? '–' : <Measured value={b - a} unit={unit} />}
            </td>
          </tr>
        );
      })}
      {price !== null && (
        <tr>
          <td>cost</td>
          {[before.taken, after.taken, after.taken - before.taken].map((wh, i) => (
            <td key={i} className="number measured">
              {amount((wh / 1000) * price, site)}
            </td>
          ))}
        </tr>
      )}
    </>
  );
}

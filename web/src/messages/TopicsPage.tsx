import type { TopicSeen } from '@loka/contract/messages';
import { printAge } from '@loka/core/formats';
import { pointerOf } from '@loka/core/messages';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useEffect, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { useLinks, useTopics } from '../api/useApi.js';
import { useNow } from '../api/clock.js';
import { EmptyState, FailedState, LoadingState } from '../shared/states.js';
import { leavesOf, topicTree, type TopicNode } from './topicTree.js';
import { PickForm, type Picked } from './PickForm.js';
import styles from './TopicsPage.module.css';

/** What is being published on a link: a tree of topics, the last payload of the chosen one, and its values to pick. */
export default function TopicsPage() {
  const linkId = Number(useParams().linkId);
  const { data: links } = useLinks();
  const { data, error, mutate } = useTopics(linkId);
  const [filter, setFilter] = useState('');
  const [chosen, setChosen] = useState<string | null>(null);
  const [picked, setPicked] = useState<Picked | null>(null);
  const payload = useRef<HTMLElement>(null);
  // On a phone the payload lies below the tree.
  useEffect(() => {
    if (chosen !== null) payload.current?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  const link = links?.find((l) => l.id === linkId);
  if (error && !data) return <FailedState error={error} retry={() => void mutate()} />;
  if (!data || !links) return <LoadingState />;
  if (!link)
    return <EmptyState title="There is no such link" action={<Link to="/field">To the links</Link>} />;
  const tree = topicTree(data.topics, filter);
  const seen = data.topics.find((t) => t.topic === chosen);
  return (
    <div className={styles.page}>
      <div className={styles.title}>
        <h1>What is published on {link.name}</h1>
        <span className="muted">
          {data.topics.length} topics{data.more > 0 ? `, and ${data.more} messages on further ones` : ''}
          {data.refused.count > 0
            ? `; ${data.refused.count} could not be looked into: ${data.refused.last}`
            : ''}
        </span>
        <span className={styles.space} />
        <Button component={Link} to="/field">
          Back
        </Button>
      </div>
      {data.fault && (
        <p className={styles.fault} role="alert">
          {data.fault}
        </p>
      )}
      <div className={styles.columns}>
        <section aria-label="Topics">
          <TextField
            label="Topics that hold"
            value={filter}
            onChange={(e) => setFilter(e.target.value)}
            helperText=" "
            fullWidth
          />
          {data.topics.length === 0 ? (
            <EmptyState title="Nothing has come yet">
              Loka listens to everything on this link. A device that reports every minute shows up within a
              minute.
            </EmptyState>
          ) : (
            <ul className={styles.tree} role="tree" aria-label="Tree of topics">
              {tree.map((node) => (
                <Level
                  key={node.path}
                  node={node}
                  chosen={chosen}
                  onChoose={setChosen}
                  open={filter !== '' || tree.length < 3}
                />
              ))}
            </ul>
          )}
        </section>
        <section className={styles.payload} aria-label="Payload" ref={payload}>
          {seen ? (
            <Payload seen={seen} onPick={(steps, value) => setPicked({ seen, steps, value })} />
          ) : (
            <EmptyState title="Choose a topic">
              Its last payload is shown here. Click a number in it to make a value of it.
            </EmptyState>
          )}
        </section>
      </div>
      {picked && (
        <PickForm
          key={picked.seen.topic + picked.steps.join('/')}
          picked={picked}
          link={link}
          onClose={() => setPicked(null)}
        />
      )}
    </div>
  );
}

function Level({
  node,
  chosen,
  onChoose,
  open: startOpen,
}: {
  node: TopicNode;
  chosen: string | null;
  onChoose: (topic: string) => void;
  open: boolean;
}) {
  const [opened, setOpened] = useState<boolean | null>(null);
  const now = useNow(1000);
  const open = opened ?? (startOpen || node.topics < 30);
  const { seen } = node;
  const branches = node.children.length > 0;
  return (
    <li role="treeitem" aria-expanded={branches ? open : undefined} aria-selected={seen?.topic === chosen}>
      <button
        type="button"
        className={styles.level}
        data-chosen={seen !== null && seen.topic === chosen}
        onClick={() => (seen ? onChoose(seen.topic) : setOpened(!open))}
      >
        {branches && (
          <span
            className={styles.twig}
            role="presentation"
            onClick={(e) => {
              e.stopPropagation();
              setOpened(!open);
            }}
          >
            {open ? '–' : '+'}
          </span>
        )}
        <span className={styles.name}>{node.level || '(empty)'}</span>
        {seen ? (
          <>
            <span className={`measured ${styles.last}`}>{seen.payload}</span>
            <span className={`measured muted ${styles.age}`}>
              {printAge(Math.max(0, now - seen.at))}
              {seen.everyMs ? `, every ${printAge(seen.everyMs)}` : ''}
            </span>
          </>
        ) : (
          <span className="muted">{node.topics}</span>
        )}
      </button>
      {branches && open && (
        <ul role="group">
          {node.children.map((child) => (
            <Level key={child.path} node={child} chosen={chosen} onChoose={onChoose} open={startOpen} />
          ))}
        </ul>
      )}
    </li>
  );
}

function Payload({ seen, onPick }: { seen: TopicSeen; onPick: (steps: string[], value: unknown) => void }) {
  const leaves = leavesOf(seen.payload);
  const plain = seen.payload.trim();
  return (
    <>
      <h2 className="measured">{seen.topic}</h2>
      <p className="muted">
        {seen.count} message{seen.count === 1 ? '' : 's'}
        {seen.everyMs ? `, about every ${printAge(seen.everyMs)}` : ''}
        {seen.retained ? ', the first one kept by the broker' : ''}. Click a value to take it.
      </p>
      {leaves === null ? (
        <button type="button" className={styles.leaf} onClick={() => onPick([], plain)}>
          <span className="muted">the whole payload</span>
          <span className="measured">{plain.slice(0, 200) || '(empty)'}</span>
        </button>
      ) : (
        leaves.map(({ steps, value }) => (
          <button
            key={pointerOf(steps)}
            type="button"
            className={styles.leaf}
            data-number={typeof value === 'number' || typeof value === 'boolean'}
            onClick={() => onPick(steps, value)}
          >
            <span className="measured muted">{pointerOf(steps)}</span>
            <span className="measured">{JSON.stringify(value)}</span>
          </button>
        ))
      )}
    </>
  );
}

import type { Dashboard } from '@loka/contract/dashboards';
import {
  added,
  changed,
  closed,
  duplicated,
  firstFree,
  freeId,
  KIND_RULES,
  newElement,
  placed,
  removed,
  rowsOf,
  type DashboardContent,
  type DashboardElement,
  type ElementKind,
  type Source,
  type Spot,
} from '@loka/core/dashboards';
import Button from '@mui/material/Button';
import { useCallback, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useNotices } from '../shared/notices.js';
import { useUnsaved } from '../shared/unsaved.js';
import { BothDialog } from '../shared/BothDialog.js';
import { EditorHead } from '../shared/EditorHead.js';
import { useAutosave, type Edited } from '../shared/useAutosave.js';
import { useDraft } from '../shared/useDraft.js';
import { AddDialog } from './AddDialog.js';
import styles from './DashboardEditor.module.css';
import { EditSheet } from './EditSheet.js';
import { useFacts } from './facts.js';
import { PhoneArranging } from './PhoneArranging.js';
import { Side } from './Side.js';
import { kindFor, sourceAs } from './shown.js';
import { TitleBlock } from './TitleBlock.js';
import { VersionsDialog } from './VersionsDialog.js';

/** A dashboard while it is made: the sheet of the desk, the phone beside it, and what is set of the chosen element below. */
export default function DashboardEditor({ dashboard }: { dashboard: Dashboard }) {
  const facts = useFacts();
  const draft = useDraft<Edited<DashboardContent>>({
    name: dashboard.name,
    content: dashboard.content,
  });
  const { now, change } = draft;
  const adopt = useCallback((theirs: Edited<DashboardContent>) => change(theirs), [change]);
  const saving = useAutosave('/dashboards', dashboard, now, adopt);
  const { state } = saving;
  useUnsaved(
    state.kind === 'waiting' || state.kind === 'refused' || state.kind === 'conflict'
      ? `the last changes to ${now.name}`
      : null,
  );
  const [search] = useSearchParams();
  const [selected, setSelected] = useState<string | null>(search.get('element'));
  const [dialog, setDialog] = useState<'add' | 'versions' | null>(null);
  const navigate = useNavigate();
  const { attempt, say } = useNotices();
  const { content } = now;
  const element = content.elements.find((e) => e.id === selected) ?? null;
  const edit = (next: DashboardContent) => next !== content && change({ ...now, content: next });

  const add = (kind: ElementKind, shows: Source[], at?: { x: number; y: number }) => {
    const { size } = KIND_RULES[kind];
    const spot: Spot = at
      ? { ...at, ...size }
      : firstFree(
          content.elements.map((e) => e.spot),
          size,
        );
    const one = newElement(freeId(content.elements), kind, shows, spot);
    edit(added(content, one));
    setSelected(one.id);
  };
  const dropped = (nodeId: number, at: { x: number; y: number }) => {
    const { kind, source } = kindFor(nodeId, facts);
    add(kind, [source], at);
  };
  const set = (id: string, changes: Partial<DashboardElement>) => {
    const before = content.elements.find((e) => e.id === id);
    if (!before) return;
    const kind = changes.kind;
    // Another kind shows the same thing, as far as it can.
    const shows =
      kind && kind !== before.kind
        ? before.shows.flatMap((s) => sourceAs(kind, s, facts) ?? []).slice(0, KIND_RULES[kind].most)
        : undefined;
    // What says nothing about a day that is not over asks for more than the head may show.
    const span = kind && kind !== before.kind ? (before.span ?? KIND_RULES[kind].span) : before.span;
    edit(changed(content, id, shows ? { span, ...changes, shows } : changes));
  };
  const remove = (id: string) => {
    edit(removed(content, id));
    setSelected(null);
    say('Removed from the sheet. Undo brings it back.');
  };
  const done = () =>
    void attempt(async () => {
      await saving.flush();
      await mutate('/dashboards');
      await navigate(`/dashboards/${dashboard.id}`);
    });
  const restore = (versionId: number) =>
    void attempt(async () => {
      await saving.flush();
      await api<Dashboard>(`/dashboards/${dashboard.id}/restore`, 'POST', {
        versionId,
        version: saving.version.current,
      });
      await mutate('/dashboards');
      setDialog(null);
    });

  return (
    <div className={styles.editor}>
      <EditorHead draft={draft} label="Name of the dashboard" state={state} zone={facts.zone} onDone={done}>
        <Button variant="outlined" onClick={() => setDialog('versions')}>
          Earlier
        </Button>
        <Button variant="outlined" onClick={() => edit({ ...content, elements: closed(content.elements) })}>
          Close gaps
        </Button>
        <Button variant="outlined" onClick={() => setDialog('add')}>
          Add an element
        </Button>
      </EditorHead>
      <div className={styles.both}>
        <section aria-label="Desk arrangement" className={styles.desk}>
          <h2>
            Desk arrangement <span className="muted">12 columns, also shown on a wall</span>
          </h2>
          <EditSheet
            content={content}
            selected={selected}
            onSelect={setSelected}
            onPlace={(id, spot) => edit(placed(content, id, spot))}
            onRemove={remove}
            onDuplicate={(id) => edit(duplicated(content, id))}
            onDropNode={dropped}
            rows={rowsOf(content.elements)}
          />
        </section>
        <section aria-label="Phone arrangement" className={styles.phone}>
          <h2>
            Phone arrangement <span className="muted">its own order, live</span>
          </h2>
          <PhoneArranging
            content={content}
            selected={selected}
            onSelect={setSelected}
            onChange={(phone) => edit({ ...content, phone })}
          />
        </section>
      </div>
      <TitleBlock
        element={element}
        index={content.elements.findIndex((e) => e.id === selected)}
        onChange={(changes) => element && set(element.id, changes)}
        onDuplicate={() => element && edit(duplicated(content, element.id))}
        onRemove={() => element && remove(element.id)}
      />
      {dialog === 'add' && (
        <AddDialog
          onAdd={(kind, shows) => {
            add(kind, shows);
            setDialog(null);
          }}
          onClose={() => setDialog(null)}
        />
      )}
      {dialog === 'versions' && (
        <VersionsDialog id={dashboard.id} onRestore={restore} onClose={() => setDialog(null)} />
      )}
      {state.kind === 'conflict' && (
        <BothDialog
          who={state.theirs.who}
          mine={<Side of={now} than={state.theirs.content} />}
          theirs={<Side of={state.theirs} than={content} />}
          onMine={() => saving.keepMine(state.theirs)}
          onTheirs={() => saving.takeTheirs(state.theirs)}
        />
      )}
    </div>
  );
}

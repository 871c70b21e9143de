import type { Kept } from '@loka/contract/versioned';
import { useCallback, useEffect, useRef, useState } from 'react';
import { mutate } from 'swr';
import { ApiError, api, inWords } from '../api/client.js';

/** What is under edit. */
export interface Edited<C> {
  name: string;
  content: C;
}

export type SaveState<C> =
  | { kind: 'saved'; at: number }
  | { kind: 'saving' }
  /** The server does not answer; it is tried again. */
  | { kind: 'waiting'; why: string }
  /** It does not hold. */
  | { kind: 'refused'; why: string }
  /** Somebody else has changed it meanwhile. */
  | { kind: 'conflict'; theirs: Kept<C> };

/** After the last stroke, ms. */
const SETTLED = 700;
const AGAIN = 3000;

const keyOf = ({ name, content }: Edited<unknown>): string => JSON.stringify([name, content]);

/**
 * Saves what is edited as one goes. What somebody else has saved is taken over while nothing here is unsaved; otherwise
 * both are shown to whoever comes second.
 * @param list path of all of them
 * @param adopt takes over what somebody else has made
 */
export function useAutosave<C>(
  list: string,
  there: Kept<C>,
  now: Edited<C>,
  adopt: (theirs: Edited<C>) => void,
) {
  const [state, setState] = useState<SaveState<C>>({ kind: 'saved', at: there.changedAt });
  const version = useRef(there.version);
  const savedKey = useRef(keyOf(there));
  const savedAt = useRef(there.changedAt);
  const latest = useRef(now);
  latest.current = now;
  const busy = useRef<Promise<void> | null>(null);
  const halted = useRef(false);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);

  const save = useCallback(async (): Promise<void> => {
    clearTimeout(timer.current);
    while (busy.current) await busy.current;
    const sent = latest.current;
    const key = keyOf(sent);
    if (halted.current) return;
    if (key === savedKey.current) {
      // What could not be kept was undone: what is kept is what there is.
      setState((before) =>
        before.kind === 'waiting' || before.kind === 'refused'
          ? { kind: 'saved', at: savedAt.current }
          : before,
      );
      return;
    }
    setState({ kind: 'saving' });
    const work = (async () => {
      try {
        const row = await api<Kept<C>>(`${list}/${there.id}`, 'PUT', {
          ...sent,
          version: version.current,
        });
        version.current = row.version;
        savedKey.current = key;
        savedAt.current = row.changedAt;
        setState({ kind: 'saved', at: row.changedAt });
      } catch (error) {
        const status = error instanceof ApiError ? error.problem.status : 0;
        if (status === 409) {
          const theirs = (await api<Kept<C>[]>(list)).find((d) => d.id === there.id);
          if (theirs && keyOf(theirs) === key) {
            // It was ours: only the answer had been lost.
            version.current = theirs.version;
            savedKey.current = key;
            setState({ kind: 'saved', at: theirs.changedAt });
          } else if (theirs) {
            halted.current = true;
            setState({ kind: 'conflict', theirs });
          } else setState({ kind: 'refused', why: 'It has been removed in the meantime.' });
        } else if (status === 0 || status >= 500) {
          setState({ kind: 'waiting', why: inWords(error) });
          timer.current = setTimeout(() => void save(), AGAIN);
        } else {
          setState({
            kind: 'refused',
            why: status === 404 ? 'It has been removed in the meantime.' : inWords(error),
          });
        }
      }
    })().catch((error: unknown) => {
      setState({ kind: 'waiting', why: inWords(error) });
      timer.current = setTimeout(() => void save(), AGAIN);
    });
    busy.current = work;
    await work;
    busy.current = null;
    // Further strokes came while it was under way.
    if (keyOf(latest.current) !== key && !halted.current)
      timer.current = setTimeout(() => void save(), SETTLED);
  }, [there.id, list]);

  const key = keyOf(now);
  useEffect(() => {
    clearTimeout(timer.current);
    if (key === savedKey.current) {
      void save();
      return;
    }
    timer.current = setTimeout(() => void save(), SETTLED);
  }, [key, save]);

  useEffect(() => {
    if (there.version <= version.current || busy.current || keyOf(latest.current) !== savedKey.current)
      return;
    version.current = there.version;
    savedKey.current = keyOf(there);
    setState({ kind: 'saved', at: there.changedAt });
    adopt({ name: there.name, content: there.content });
  }, [there, adopt]);

  useEffect(() => {
    const onHide = () => void save();
    document.addEventListener('visibilitychange', onHide);
    return () => {
      document.removeEventListener('visibilitychange', onHide);
      clearTimeout(timer.current);
      void save().then(() => mutate(list));
    };
  }, [save, list]);

  /** Out of a conflict: what is here over theirs. */
  const keepMine = (theirs: Kept<C>): void => {
    version.current = theirs.version;
    halted.current = false;
    void save();
  };
  /** Out of a conflict: what is there. */
  const takeTheirs = (theirs: Kept<C>): void => {
    version.current = theirs.version;
    savedKey.current = keyOf(theirs);
    halted.current = false;
    setState({ kind: 'saved', at: theirs.changedAt });
    adopt({ name: theirs.name, content: theirs.content });
  };
  return { state, flush: save, keepMine, takeTheirs, version };
}

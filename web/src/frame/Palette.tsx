import Dialog from '@mui/material/Dialog';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { useInstallation } from '../api/useApi.js';
import { nodeTitle } from '../shared/nodes.js';
import { isTyping } from './isTyping.js';
import { AREAS, useKept } from './WorkAreas.js';
import styles from './Palette.module.css';

interface Action {
  name: string;
  path: string;
}

const KEYS: [string, string][] = [
  ['/', 'Find a way or load'],
  ['↑ ↓', 'Move in the installation'],
  ['Ctrl K', 'Actions'],
  ['[ ]', 'One period back, one forward'],
  ['Esc', 'Close a dialog, or back out of a stretch of a chart'],
  ['Drag', 'Into a stretch of a chart; with Shift along it'],
  ['?', 'This list'],
];

/** The palette of actions (Ctrl+K) and the list of keys (?). */
export function Palette() {
  const [open, setOpen] = useState<'actions' | 'keys' | null>(null);
  const [text, setText] = useState('');
  const [marked, setMarked] = useState(0);
  const { data: nodes = [] } = useInstallation();
  const navigate = useNavigate();
  const kept = useKept();
  /** What gets the keys once it is closed: what had them before, or where an action has led. */
  const next = useRef<HTMLElement | null>(null);

  useEffect(() => {
    if (open !== null) return;
    next.current?.focus();
    next.current = null;
  }, [open]);

  useEffect(() => {
    const show = (what: 'actions' | 'keys') => {
      next.current ??= document.activeElement instanceof HTMLElement ? document.activeElement : null;
      setOpen(what);
    };
    const onKey = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
        event.preventDefault();
        setText('');
        setMarked(0);
        show('actions');
      } else if (event.key === '?' && !isTyping(event.target)) show('keys');
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);

  const actions: Action[] = [
    ...AREAS.map(({ name, path }) => ({ name: `Go to ${name}`, path: path + kept })),
    { name: 'Add a link', path: '/field?add=link' },
    { name: 'Add a device', path: '/field?add=device' },
    { name: 'Find devices', path: '/field/search' },
    { name: 'Which one moves?', path: '/field/moves' },
    { name: 'Add an alert', path: '/alerts?add=rule' },
    { name: 'Settings of the site', path: '/settings' },
    ...nodes.flatMap((n) => [
      { name: nodeTitle(n), path: `/board?at=${n.id}` },
      ...(n.kind === 'circuit'
        ? [
            { name: `Verify ${n.name}`, path: `/bench?at=${n.id}&do=verify` },
            { name: `Calibrate ${n.name}`, path: `/bench?at=${n.id}&do=calibrate` },
            { name: `Fit a meter: ${n.name}`, path: `/field/fit/${n.id}` },
          ]
        : []),
    ]),
  ];
  const found = actions
    .filter((a) =>
      text
        .toLowerCase()
        .split(/\s+/)
        .every((word) => a.name.toLowerCase().includes(word)),
    )
    .slice(0, 12);
  const go = (action: Action | undefined) => {
    if (!action) return;
    next.current = document.getElementById('work');
    setOpen(null);
    void navigate(action.path);
  };
  return (
    <Dialog
      open={open !== null}
      transitionDuration={0}
      disableRestoreFocus
      onClose={() => setOpen(null)}
      fullWidth
      maxWidth="xs"
      aria-label={open === 'keys' ? 'Keys' : 'Actions'}
    >
      {open === 'keys' ? (
        <dl className={styles.keys}>
          {KEYS.map(([key, what]) => (
            <div key={key}>
              <dt>
                <kbd>{key}</kbd>
              </dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
      ) : (
        <div className={styles.palette}>
          <input
            autoFocus
            value={text}
            placeholder="What do you want to do?"
            aria-label="What do you want to do?"
            onChange={(e) => {
              setText(e.target.value);
              setMarked(0);
            }}
            onKeyDown={(e) => {
              if (e.key === 'ArrowDown') setMarked((m) => Math.min(m + 1, found.length - 1));
              else if (e.key === 'ArrowUp') setMarked((m) => Math.max(m - 1, 0));
              else if (e.key === 'Enter') {
                // The focus goes elsewhere, and the same key must not press what lies there.
                e.preventDefault();
                go(found[marked]);
              }
            }}
          />
          <ul>
            {found.map((action, i) => (
              <li key={action.name + action.path}>
                <button type="button" data-marked={i === marked} onClick={() => go(action)}>
                  {action.name}
                </button>
              </li>
            ))}
          </ul>
        </div>
      )}
    </Dialog>
  );
}

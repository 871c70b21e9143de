import {
  ELEMENT_KINDS,
  KIND_RULES,
  spotInWords,
  type DashboardElement,
  type ElementKind,
  type Ends,
  type Source,
} from '@loka/core/dashboards';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState, type ReactNode } from 'react';
import { Balloon } from './Balloon.js';
import { SPAN_CHOICES } from './elements/useSpan.js';
import { useFacts } from './facts.js';
import { NameField } from '../shared/NameField.js';
import { typedNumber } from '../shared/typedNumber.js';
import { PickList } from './PickList.js';
import { KIND_WORDS, scaleFor, shownBy, sourceAs, titleOf } from './shown.js';
import styles from './TitleBlock.module.css';

/** What is set of the chosen element: the title block of the drawing, below the sheet, covering nothing. */
export function TitleBlock({
  element,
  index,
  onChange,
  onDuplicate,
  onRemove,
}: {
  element: DashboardElement | null;
  index: number;
  onChange: (changes: Partial<DashboardElement>) => void;
  onDuplicate: () => void;
  onRemove: () => void;
}) {
  if (!element)
    return (
      <div className={styles.block} role="region" aria-label="The chosen element">
        <p className={styles.none}>
          Choose an element to set what it shows. Tab goes from one to the next, arrows move it.
        </p>
      </div>
    );
  return (
    <div className={styles.block} role="region" aria-label="The chosen element">
      <Settings key={element.id} element={element} index={index} onChange={onChange} />
      <Cell label="">
        <span className={styles.verbs}>
          <Button onClick={onDuplicate}>Double</Button>
          <Button color="error" onClick={onRemove}>
            Remove
          </Button>
        </span>
      </Cell>
    </div>
  );
}

function Settings({
  element,
  index,
  onChange,
}: {
  element: DashboardElement;
  index: number;
  onChange: (changes: Partial<DashboardElement>) => void;
}) {
  const facts = useFacts();
  const [picking, setPicking] = useState(false);
  const { kind, shows } = element;
  const { most, takes } = KIND_RULES[kind];
  const [first] = shows;
  const shown = first ? shownBy(first, facts) : null;
  const scale = shown ? scaleFor(element, shown, facts) : null;
  const isScaled = kind === 'dial' || kind === 'level';
  const isNumber = isScaled || kind === 'number';
  const kinds = ELEMENT_KINDS.filter(
    (k) => k === kind || (first ? sourceAs(k, first, facts) !== null : KIND_RULES[k].most === most),
  );
  const hasSpan =
    ['trend', 'bars', 'ranking', 'typical-day', 'flow'].includes(kind) ||
    (kind === 'number' && first?.of === 'energy');
  const pick = (source: Source) => {
    const same = (s: Source) => s.of === source.of && s.id === source.id;
    if (most === 1) {
      onChange({ shows: [source] });
      setPicking(false);
    } else
      onChange({ shows: shows.some(same) ? shows.filter((s) => !same(s)) : [...shows, source].slice(-most) });
  };
  return (
    <>
      <Cell label="" wide>
        <span className={styles.what}>
          <Balloon n={index + 1} on />
          <span>
            <select
              value={kind}
              aria-label="What it is"
              onChange={(e) => onChange({ kind: e.target.value as ElementKind })}
            >
              {kinds.map((k) => (
                <option key={k} value={k}>
                  {KIND_WORDS[k].name}
                </option>
              ))}
            </select>
            <small>{spotInWords(element.spot)}</small>
          </span>
        </span>
      </Cell>
      {most > 0 && (
        <Cell label="Shows" wide>
          <Button onClick={() => setPicking(true)} className={styles.shows ?? ''}>
            {shows.length === 0
              ? 'Choose'
              : shows.map((s) => shownBy(s, facts)?.name ?? 'no longer there').join(' · ')}
          </Button>
        </Cell>
      )}
      <Cell label="Title">
        <NameField
          value={element.title ?? ''}
          label="Title"
          placeholder={titleOf({ ...element, title: null }, facts)}
          onChange={(title) => onChange({ title: title.trim() || null })}
        />
      </Cell>
      {kind === 'text' && (
        <Cell label="Text" wide>
          <TextArea value={element.text} onChange={(text) => onChange({ text })} />
        </Cell>
      )}
      {isScaled && (
        <Cell label={`Scale${shown ? `, ${shown.unit || 'as read'}` : ''}`}>
          <EndsFields
            of="scale"
            value={element.scale}
            usual={scale ? [scale.low, scale.high] : null}
            onChange={(ends) => onChange({ scale: ends })}
          />
        </Cell>
      )}
      {isNumber && first?.of !== 'energy' && (
        <Cell label={`Band${shown ? `, ${shown.unit || 'as read'}` : ''}`}>
          <EndsFields
            of="band"
            value={element.band}
            usual={isScaled && scale ? [scale.from, scale.to] : null}
            onChange={(ends) => onChange({ band: ends })}
          />
        </Cell>
      )}
      {isNumber && (
        <Cell label="Digits">
          <span className={styles.digits}>
            <button
              type="button"
              aria-label="Fewer digits"
              disabled={element.digits === null}
              onClick={() => onChange({ digits: element.digits === 0 ? null : (element.digits ?? 1) - 1 })}
            >
              −
            </button>
            <span className="measured">{element.digits ?? 'auto'}</span>
            <button
              type="button"
              aria-label="More digits"
              disabled={element.digits === 6}
              onClick={() => onChange({ digits: element.digits === null ? 0 : element.digits + 1 })}
            >
              +
            </button>
          </span>
        </Cell>
      )}
      {hasSpan && (
        <Cell label="Over">
          <select
            aria-label="Over"
            value={element.span ?? ''}
            onChange={(e) => onChange({ span: (e.target.value || null) as DashboardElement['span'] })}
          >
            {SPAN_CHOICES.map(([name, words]) => (
              <option key={words} value={name ?? ''}>
                {words}
              </option>
            ))}
          </select>
        </Cell>
      )}
      {picking && (
        <Dialog open onClose={() => setPicking(false)} maxWidth="xs" fullWidth>
          <DialogTitle>
            What the {KIND_WORDS[kind].name.toLowerCase()} shows{most > 1 ? `, up to ${most}` : ''}
          </DialogTitle>
          <DialogContent>
            {takes.length > 0 && <PickList kind={kind} chosen={shows} onPick={pick} />}
          </DialogContent>
          <DialogActions>
            <Button onClick={() => setPicking(false)}>{most > 1 ? 'Done' : 'Close'}</Button>
          </DialogActions>
        </Dialog>
      )}
    </>
  );
}

const Cell = ({ label, wide = false, children }: { label: string; wide?: boolean; children: ReactNode }) => (
  <div className={styles.cell} data-wide={wide}>
    {label && <span className={styles.label}>{label}</span>}
    {children}
  </div>
);

/** Two numbers; both empty takes what is usual. What does not hold is said and not taken. */
function EndsFields({
  of,
  value,
  usual,
  onChange,
}: {
  of: 'scale' | 'band';
  value: Ends | null;
  usual: Ends | null;
  onChange: (ends: Ends | null) => void;
}) {
  const [typed, setTyped] = useState<[string, string] | null>(null);
  const [low, high] = typed ?? [value ? String(value[0]) : '', value ? String(value[1]) : ''];
  const fault =
    typed === null || (low === '' && high === '')
      ? null
      : !Number.isFinite(parse(low)) || !Number.isFinite(parse(high))
        ? 'Two numbers, or none.'
        : parse(low) >= parse(high)
          ? 'The lower end first.'
          : null;
  const take = () => {
    if (typed === null || fault !== null) return;
    const next: Ends | null = low === '' && high === '' ? null : [parse(low), parse(high)];
    if (JSON.stringify(next) !== JSON.stringify(value)) onChange(next);
    setTyped(null);
  };
  const field = (i: 0 | 1, name: string) => (
    <input
      className={styles.end}
      inputMode="decimal"
      aria-label={`${name} end of the ${of}`}
      aria-invalid={fault !== null}
      value={i === 0 ? low : high}
      placeholder={usual ? String(Number(usual[i].toPrecision(4))) : ''}
      onChange={(e) => setTyped(i === 0 ? [e.target.value, high] : [low, e.target.value])}
      onBlur={(e) => !e.currentTarget.parentElement?.contains(e.relatedTarget) && take()}
      onKeyDown={(e) => {
        if (e.key === 'Enter') take();
        if (e.key === 'Escape') setTyped(null);
      }}
    />
  );
  return (
    <span className={styles.ends}>
      {field(0, 'Lower')} – {field(1, 'Upper')}
      {fault && (
        <small className="danger" role="alert">
          {fault}
        </small>
      )}
    </span>
  );
}

const parse = (text: string): number => typedNumber(text) ?? NaN;

function TextArea({ value, onChange }: { value: string; onChange: (text: string) => void }) {
  const [text, setText] = useState(value);
  return (
    <textarea
      className={styles.text}
      aria-label="Text"
      maxLength={2000}
      rows={2}
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => text !== value && onChange(text)}
    />
  );
}

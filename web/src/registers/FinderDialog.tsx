import type { WordsRead } from '@loka/contract/acquisition';
import { QUANTITIES, quantityInfo, type Quantity } from '@loka/core/quantities';
import {
  findInRange,
  findInterpretations,
  noValueAt,
  kindInWords,
  wireAddress,
  type Interpretation,
  type Knowledge,
  type PointDefinition,
} from '@loka/core/registers';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import LinearProgress from '@mui/material/LinearProgress';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { api, inWords } from '../api/client.js';
import { useSite } from '../api/useApi.js';
import { Measured } from '../shared/Measured.js';
import styles from './FinderDialog.module.css';

type Known = 'voltage' | 'frequency' | 'instrument' | 'power-factor' | 'counter';
const MEASURED: Quantity[] = [
  'current',
  'active-power',
  'voltage',
  'reactive-power',
  'apparent-power',
  'power-factor',
  'temperature',
  'frequency',
];

const CONFIDENCE: Record<Interpretation['confidence'], string[]> = {
  strong: ['strong'],
  fair: [],
  weak: ['weak: it may be chance'],
};

interface Props {
  row: PointDefinition;
  target: { linkId: number; unit: number };
  onTake: (found: Interpretation, quantity: Quantity, forAll: boolean) => void;
  onClose: () => void;
}

/** Finds out how a value lies in the registers from what one knows of it, and ranks what fits with the reasons. */
export function FinderDialog({ row, target, onTake, onClose }: Props) {
  const { data } = useSite();
  const [known, setKnown] = useState<Known>('voltage');
  const [quantity, setQuantity] = useState<Quantity>('current');
  const [typed, setTyped] = useState('');
  const [until, setUntil] = useState('');
  const [forAll, setForAll] = useState(false);
  const [busy, setBusy] = useState(false);
  const [fault, setFault] = useState<string | null>(null);
  const [noValue, setNoValue] = useState<string | null>(null);
  const [found, setFound] = useState<Interpretation[] | null>(null);
  const address = wireAddress(row.kind, row.address, row.counting);
  const { nominalVoltage = 230, frequency = 50 } = data?.site ?? {};
  const value = Number(typed.replace(',', '.'));
  const knowledge = knowledgeOf(known, { nominalVoltage, frequency, quantity, value });
  const missing = known === 'instrument' && (typed.trim() === '' || !Number.isFinite(value) || value === 0);
  const sought: Quantity = known === 'instrument' ? quantity : known === 'counter' ? 'energy-import' : known;

  const look = async () => {
    if (!address.ok) return;
    setBusy(true);
    setFault(null);
    setFound(null);
    try {
      const last = until.trim() === '' ? null : wireAddress(row.kind, until, row.counting);
      if (last && !last.ok) throw new Error(last.message);
      const { snapshots, failures } = await api<WordsRead>('/devices/read-words', 'POST', {
        ...target,
        address: address.wire,
        ...(last ? { last: last.wire } : {}),
        slowly: known === 'counter',
      });
      setNoValue(last ? null : noValueAt(address.wire, snapshots));
      if (snapshots.length === 0) setFault(failures[0]?.message ?? 'Nothing was read.');
      else if (last)
        setFound(findInRange({ kind: row.kind, first: address.wire, last: last.wire }, snapshots, knowledge));
      else setFound(findInterpretations({ kind: row.kind, address: address.wire }, snapshots, knowledge));
    } catch (error) {
      setFault(inWords(error));
    }
    setBusy(false);
  };

  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>What lies at {row.address}?</DialogTitle>
      <DialogContent sx={{ pt: '10px !important' }}>
        <div className={styles.known}>
          <TextField
            select
            label="What do you know about it?"
            value={known}
            onChange={(e) => {
              setKnown(e.target.value as Known);
              setFound(null);
            }}
          >
            <MenuItem value="voltage">A line voltage near {nominalVoltage} V</MenuItem>
            <MenuItem value="frequency">The frequency near {frequency} Hz</MenuItem>
            <MenuItem value="instrument">Another instrument reads it</MenuItem>
            <MenuItem value="power-factor">A power factor</MenuItem>
            <MenuItem value="counter">An energy counter that rises</MenuItem>
          </TextField>
          {known === 'instrument' && (
            <>
              <TextField
                select
                label="Quantity"
                value={quantity}
                onChange={(e) => setQuantity(e.target.value as Quantity)}
              >
                {MEASURED.map((q) => (
                  <MenuItem key={q} value={q}>
                    {QUANTITIES[q].label}
                  </MenuItem>
                ))}
              </TextField>
              <TextField
                label={`It reads, ${quantityInfo(quantity).unit}`}
                value={typed}
                inputMode="decimal"
                onChange={(e) => setTyped(e.target.value)}
                error={typed !== '' && missing}
              />
            </>
          )}
          <TextField
            label="Or up to address"
            value={until}
            onChange={(e) => setUntil(e.target.value)}
            sx={{ maxWidth: 140 }}
          />
          <Button variant="contained" disabled={busy || missing || !address.ok} onClick={() => void look()}>
            Look
          </Button>
        </div>
        {!address.ok && <p className="danger">{address.message}</p>}
        {busy && (
          <>
            <p className="muted">
              Reading holding and input registers a few times
              {known === 'counter' ? ', for about 20 s so that it counts' : ''} …
            </p>
            <LinearProgress aria-label="Reading" />
          </>
        )}
        {fault && (
          <p className="danger" role="alert">
            {fault}
          </p>
        )}
        {noValue && (
          <p role="status">
            The device has {noValue} there, by which many say “not available”: nothing is connected to this
            input, or it is not measured now.
          </p>
        )}
        {found?.length === 0 && (
          <p role="status">
            Nothing fits at this address or one beside it. The value is elsewhere, or what you know about it
            is wrong (is the load on?).
          </p>
        )}
        {found && found.length > 0 && found.every((one) => one.confidence === 'weak') && (
          <p role="status">
            Nothing fits well; what follows may be chance. Is the load on, and is what you know about the
            value right?
          </p>
        )}
        {(found?.[0]?.rivals ?? 0) > 0 && found?.[0]?.confidence !== 'weak' && (
          <p role="status">
            Several interpretations explain the words equally well. Look again with another load, or with what
            another instrument reads.
          </p>
        )}
        {found && found.length > 0 && (
          <ol className={styles.found} aria-label="What fits">
            {found.map((one, i) => (
              <li
                key={`${one.kind} ${one.address} ${one.type} ${one.wordOrder} ${one.byteOrder} ${one.factor}`}
                data-best={i === 0}
              >
                <Measured value={one.value} unit={quantityInfo(sought).unit} className={styles.value} />
                <div>
                  <strong>
                    {one.type} in {kindInWords(one.kind)} {one.address}
                    {one.factor === 1 || one.span ? '' : `, × ${one.factor}`}
                  </strong>
                  <p className="muted">{[...one.reasons, ...CONFIDENCE[one.confidence]].join('; ')}</p>
                </div>
                <Button
                  variant={i === 0 ? 'contained' : 'outlined'}
                  onClick={() => onTake(one, sought, forAll)}
                >
                  Take this
                </Button>
              </li>
            ))}
          </ol>
        )}
        {found && found.length > 0 && (
          <FormControlLabel
            control={<Checkbox size="small" checked={forAll} onChange={(e) => setForAll(e.target.checked)} />}
            label="Kind, counting and order for all values of the map"
          />
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

function knowledgeOf(
  known: Known,
  {
    nominalVoltage,
    frequency,
    quantity,
    value,
  }: { nominalVoltage: number; frequency: number; quantity: Quantity; value: number },
): Knowledge {
  switch (known) {
    case 'voltage':
      return { about: 'near-nominal', quantity: 'voltage', nominal: nominalVoltage };
    case 'frequency':
      return { about: 'near-nominal', quantity: 'frequency', nominal: frequency };
    case 'instrument':
      return { about: 'instrument', quantity, value };
    default:
      return { about: known };
  }
}

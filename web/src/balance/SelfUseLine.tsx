import type { PeriodBalance } from '@loka/contract/balance';
import type { InstallationNode } from '@loka/contract/installation';
import Popover from '@mui/material/Popover';
import { useState } from 'react';
import { Measured } from '../shared/Measured.js';
import styles from './SelfUseLine.module.css';

const percent = (ratio: number): string => `${Math.round(100 * ratio)} %`;

/** What it was in the other period, in brackets; nothing without one. */
const was = (compared: PeriodBalance | null, ratio: number | null | undefined): string =>
  compared === null
    ? ''
    : ratio === null || ratio === undefined
      ? ' (before: not known)'
      : ` (before: ${percent(ratio)})`;
const storageWas = (then: PeriodBalance['storages'][number] | undefined): string =>
  then === undefined || then.cycles === null
    ? ' (before: not known)'
    : ` (before: ${then.cycles.toFixed(2)} cycles)`;

/** What of the site's own generation stayed, what of its use it covered, and what its storages did. */
export function SelfUseLine({
  balance: { selfUse, storages },
  compared,
  nodes,
}: {
  balance: PeriodBalance;
  /** The same of another period; null without one. */
  compared: PeriodBalance | null;
  nodes: readonly InstallationNode[];
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  if (!selfUse && storages.length === 0) return null;
  const before = compared?.selfUse;
  return (
    <p className={styles.line}>
      {selfUse && selfUse.selfUse !== null && (
        <span>
          <b>Self-use {percent(selfUse.selfUse)}</b>
          {was(compared, before?.selfUse)}: of <Measured value={selfUse.generated} unit="Wh" /> generated{' '}
          <Measured value={selfUse.stayed} unit="Wh" /> stayed here.
        </span>
      )}
      {selfUse && selfUse.selfSufficiency !== null && (
        <span>
          <b>Self-sufficiency {percent(selfUse.selfSufficiency)}</b>
          {was(compared, before?.selfSufficiency)}: of <Measured value={selfUse.used} unit="Wh" /> used{' '}
          <Measured value={selfUse.own} unit="Wh" /> did not come from the supply.
        </span>
      )}
      {storages.map((s) => (
        <span key={s.nodeId}>
          <b>{nodes.find((n) => n.id === s.nodeId)?.name}</b>: took <Measured value={s.charged} unit="Wh" />,
          gave <Measured value={s.discharged} unit="Wh" />
          {s.cycles !== null && `, ${s.cycles.toFixed(2)} cycles`}
          {s.efficiency !== null && `, efficiency ${percent(s.efficiency)}`}
          {compared && storageWas(compared.storages.find((c) => c.nodeId === s.nodeId))}.
        </span>
      ))}
      <button type="button" className={styles.how} onClick={(e) => setAnchor(e.currentTarget)}>
        How is this computed?
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <div className={styles.sheet}>
          <p>
            It is worked out for each quarter-hour. What went back to the supply is taken off what was
            generated in that quarter-hour; what goes beyond that came out of the storage. Used is import +
            generated + discharged − export − charged.
          </p>
          <p>
            Self-use is the part of the generated energy that did not go back to the supply. Self-sufficiency
            is the part of the used energy that did not come from the supply in the same quarter-hour.
          </p>
          <p>
            Cycles are the energy discharged divided by the storage capacity (entered with Change at its
            place). Efficiency is discharged / (charged − gain in stored energy); it is shown from half a
            cycle onwards, where the state of charge is read.
          </p>
          {selfUse && selfUse.unknown > 0 && (
            <p className="warn">
              {selfUse.unknown} quarter-hours are left out: some readings were missing in them.
            </p>
          )}
        </div>
      </Popover>
    </p>
  );
}

/** How a switch stands between what was commanded and what it reports. */
export const SWITCH_AGREEMENTS = ['agrees', 'waiting', 'mismatch', 'unknown'] as const;
export type SwitchAgreement = (typeof SWITCH_AGREEMENTS)[number];

export interface SwitchView {
  /** Last command that was sent, or null when none was. */
  commanded: boolean | null;
  commandedAt: number | null;
  /** State read back from the device, or null when it cannot be read now. */
  readBack: boolean | null;
}

/**
 * Compares the commanded with the read-back state. A difference is "waiting" until the time-out has passed since
 * the command, then a mismatch. Without a command there is nothing to disagree with.
 */
export function switchAgreement(
  { commanded, commandedAt, readBack }: SwitchView,
  now: number,
  timeoutMs: number,
): SwitchAgreement {
  const waited = commandedAt === null ? Infinity : now - commandedAt;
  if (readBack === null) return commanded !== null && waited < timeoutMs ? 'waiting' : 'unknown';
  if (commanded === null || commanded === readBack) return 'agrees';
  return waited < timeoutMs ? 'waiting' : 'mismatch';
}

/** How a command has ended; null while that is not plain yet. */
export type CommandEnd = 'confirmed' | 'mismatch' | null;

/**
 * Whether a command has been carried out, by what is read back after it was sent: a state that was read before confirms
 * nothing, however well it agrees.
 * @param readBackAt when the state was read, UTC ms
 */
export function commandEnd(
  { closed, commandedAt }: { closed: boolean; commandedAt: number },
  { readBack, readBackAt }: { readBack: boolean | null; readBackAt: number | null },
  now: number,
  timeoutMs: number,
): CommandEnd {
  const fresh = readBackAt !== null && readBackAt >= commandedAt;
  if (fresh && readBack === closed) return 'confirmed';
  return now - commandedAt >= timeoutMs ? 'mismatch' : null;
}

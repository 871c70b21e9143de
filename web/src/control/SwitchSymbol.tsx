import type { SwitchAgreement } from '@loka/core/control';

const WORDS: Record<SwitchAgreement, string> = {
  agrees: '',
  waiting: ', waiting for the state',
  mismatch: ', disagrees with the command',
  unknown: '',
};

/** A switch drawn as its contact (IEC 60617, make contact): open, closed, or not known. */
export function SwitchSymbol({
  closed,
  agreement,
  wide = false,
}: {
  closed: boolean | null;
  agreement: SwitchAgreement;
  wide?: boolean;
}) {
  const colour =
    agreement === 'mismatch' ? 'var(--danger)' : agreement === 'waiting' ? 'var(--warn)' : 'var(--ink)';
  const label = `${closed === null ? 'state not known' : closed ? 'closed' : 'open'}${WORDS[agreement]}`;
  return (
    <svg width={wide ? 52 : 40} height={wide ? 23 : 18} viewBox="0 0 40 18" role="img" aria-label={label}>
      <title>{label}</title>
      <path d="M2 12h9M29 12h9" stroke={colour} strokeWidth="1.6" />
      {closed === null ? (
        <path d="M11 12h18" stroke={colour} strokeDasharray="2 3" />
      ) : closed ? (
        <path d="M11 12h18" stroke="var(--accent)" strokeWidth="2.4" />
      ) : (
        <path d="M11 12L27 3" stroke={colour} strokeWidth="1.8" />
      )}
      <circle cx="11" cy="12" r="2.4" fill={colour} />
      <circle cx="29" cy="12" r="2.4" fill={colour} />
    </svg>
  );
}

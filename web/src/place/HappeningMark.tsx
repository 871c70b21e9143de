import type { HappeningKind } from '@loka/contract/happenings';
import type { ReactNode } from 'react';

export const HAPPENING_WORDS: Record<HappeningKind, string> = {
  alert: 'Alert',
  switched: 'Switched',
  correction: 'Corrected',
  gap: 'No readings',
  fitting: 'Fitted',
  comment: 'Comment',
};

const SIGNS: Record<HappeningKind, ReactNode> = {
  alert: <path d="M7 2 12.5 12h-11z" fill="currentColor" />,
  switched: <path d="M1 10h3l7-6M11 10h2" />,
  correction: <path d="M2 11h10M4 11V6l3 3 3-6v8" />,
  gap: <path d="M2 3h10v8H2zM2 8l5-5M5 11l7-7" />,
  fitting: <path d="M3 3h8v8H3zM7 3v8" />,
  comment: <path d="M2 2.5h10v6.5H7l-3 3V9H2z" fill="var(--sheet)" />,
};

/** What happened, as a sign. */
export const HappeningMark = ({ kind }: { kind: HappeningKind }) => (
  <svg
    viewBox="0 0 14 14"
    width="14"
    height="14"
    fill="none"
    stroke="currentColor"
    strokeWidth="1.3"
    aria-hidden
  >
    {SIGNS[kind]}
  </svg>
);

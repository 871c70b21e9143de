import type { Purpose } from '@loka/core/installation';
import type { ReactNode } from 'react';
import { PURPOSE_WORDS } from './purposeWords.js';

/** Lamp and motor as in IEC 60617; the others are simple signs of the thing. */
const SIGNS: Record<Purpose, ReactNode> = {
  cooking: <path d="M2 12h12M4 12a4 4.6 0 0 1 8 0M8 5v2" />,
  heating: <path d="M2 11V5h12v6M2 11h12M5 5v6M8 5v6M11 5v6" />,
  'hot-water': <path d="M8 2c3 4 4 5.4 4 7.4A4 4 0 0 1 4 9.4C4 7.4 5 6 8 2z" />,
  cooling: <path d="M8 2v12M2.8 5l10.4 6M13.2 5 2.8 11" />,
  lighting: (
    <>
      <circle cx="8" cy="8" r="5.5" />
      <path d="m4.1 4.1 7.8 7.8m0-7.8-7.8 7.8" />
    </>
  ),
  drives: (
    <>
      <circle cx="8" cy="8" r="5.5" />
      <path d="M5.5 10.5v-5L8 9l2.5-3.5v5" />
    </>
  ),
  ventilation: <path d="M8 8C4 8 3 3 6 3s2 3 2 5zm0 0c4 0 5 5 2 5s-2-3-2-5z" />,
  office: <path d="M2.5 3.5h11v7h-11zM8 10.5V13M5 13h6" />,
  vehicle: (
    <>
      <path d="M1.5 11V5H10v6M10 7h2.5l2 2v2H1.5" />
      <circle cx="4.5" cy="11.5" r="1.3" />
      <circle cx="11.5" cy="11.5" r="1.3" />
    </>
  ),
  washing: (
    <>
      <path d="M3 2.5h10v11H3z" />
      <circle cx="8" cy="8.5" r="3" />
    </>
  ),
  roof: <path d="M3 8h10v5H3zM8 8v5M1.5 3l3 3m0-2v2h-2M6.5 2l3 3m0-2v2h-2" />,
  storage: <path d="M1.5 8H6M6 3v10M9.5 5.5v5M9.5 8h5" />,
  other: <path d="M3 3h10v10H3z" />,
};

/** A small sign of what a place is for. */
export function PurposeMark({ purpose, size = 15 }: { purpose: Purpose | null; size?: number }) {
  if (purpose === null) return null;
  return (
    <svg
      viewBox="0 0 16 16"
      width={size}
      height={size}
      fill="none"
      stroke="currentColor"
      strokeWidth="1.2"
      role="img"
      aria-label={PURPOSE_WORDS[purpose]}
    >
      <title>{PURPOSE_WORDS[purpose]}</title>
      {SIGNS[purpose]}
    </svg>
  );
}

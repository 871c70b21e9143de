import type { ElementKind } from '@loka/core/dashboards';
import type { ReactNode } from 'react';

const SIGNS: Record<ElementKind, ReactNode> = {
  number: <path d="M5 8l3-2v11M13 7h6l-6 10h6" />,
  dial: <path d="M4 18A14 14 0 0 1 18 4v14zM18 18 9 9" />,
  level: <path d="M9 3h6v18H9zM9 11h6M5 6h4M5 18h4" />,
  trend: <path d="M3 3v18h18M5 16l4-6 4 4 6-9" />,
  bars: <path d="M3 21h18M5 21V11h3v10M11 21V5h3v16M17 21v-7h3v7" />,
  ranking: <path d="M3 5h18M3 10h13M3 15h8M3 20h4" />,
  'typical-day': <path d="M3 20h18M3 15c4 0 4-9 8-9s4 9 10 9M3 18c5 0 5-5 8-5s4 5 10 5" />,
  flow: <path d="M3 6h8v12H3M11 8h10M11 16h10M11 12h10" />,
  switch: <path d="M2 15h6l9-6M17 15h5" />,
  command: <path d="M3 12h12M11 7l5 5-5 5M20 5v14" />,
  alerts: <path d="M12 3 21 20H3zM12 9v5M12 16.5v1" />,
  job: <path d="M3 12l4 4 6-8M14 16h7" />,
  plan: <path d="M3 4h18v16H3zM3 12h8V4M11 12v2M11 17v3" />,
  picture: <path d="M3 5h18v14H3zM3 16l5-5 5 5 3-3 5 5M15 9h2" />,
  text: <path d="M4 6h16M4 11h16M4 16h9" />,
};

/** A kind of element, as a small drawing. */
export const KindMark = ({ kind }: { kind: ElementKind }) => (
  <svg
    viewBox="0 0 24 24"
    width="24"
    height="24"
    fill="none"
    stroke="currentColor"
    strokeWidth="1.4"
    aria-hidden
  >
    {SIGNS[kind]}
  </svg>
);

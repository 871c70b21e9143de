import type { CheckVerdict } from '@loka/core/verify';

const SIZE = 18;
const COLOUR: Record<CheckVerdict | 'do-now', string> = {
  pass: 'var(--ok)',
  fail: 'var(--danger)',
  'cannot-tell': 'var(--ink2)',
  'do-now': 'var(--mandatory)',
};
export const VERDICT_WORDS: Record<CheckVerdict, string> = {
  pass: 'pass',
  fail: 'fail',
  'cannot-tell': 'cannot tell',
};

/** The mark of a check: a shape of its own for each verdict, so that nothing depends on colour alone. */
export function CheckMark({ verdict, size = SIZE }: { verdict: CheckVerdict | 'do-now'; size?: number }) {
  const colour = COLOUR[verdict];
  return (
    <svg width={size} height={size} viewBox="0 0 18 18" aria-hidden>
      {verdict === 'pass' && (
        <path
          d="M9 1.5a7.5 7.5 0 1 1 0 15a7.5 7.5 0 1 1 0 -15M5.2 9.3l2.7 2.7l5 -5.6"
          fill="none"
          stroke={colour}
          strokeWidth="1.8"
        />
      )}
      {verdict === 'fail' && (
        <>
          <path d="M9 .5l8.5 8.5l-8.5 8.5l-8.5 -8.5z" fill={colour} />
          <path d="M6.3 6.3l5.4 5.4m0 -5.4l-5.4 5.4" stroke="var(--sheet)" strokeWidth="1.8" />
        </>
      )}
      {verdict === 'cannot-tell' && (
        <>
          <rect
            x="2"
            y="2"
            width="14"
            height="14"
            fill="none"
            stroke={colour}
            strokeDasharray="3 2.6"
            strokeWidth="1.5"
          />
          <path d="M6 9h6" stroke={colour} strokeWidth="1.6" />
        </>
      )}
      {verdict === 'do-now' && (
        <>
          <circle cx="9" cy="9" r="8" fill={colour} />
          <path d="M9 4.2v6M9 12.4v1.8" stroke="var(--sheet)" strokeWidth="2" />
        </>
      )}
    </svg>
  );
}

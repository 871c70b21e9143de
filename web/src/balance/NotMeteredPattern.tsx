import type { Sheet } from '../theme/tokens.js';
import { NOT_METERED_ID } from './stripWords.js';

/** The hatch of what nobody meters: 45°, 5 px. */
export const NotMeteredPattern = ({ sheet }: { sheet: Sheet }) => (
  <defs>
    <pattern
      id={NOT_METERED_ID}
      width="5"
      height="5"
      patternUnits="userSpaceOnUse"
      patternTransform="rotate(45)"
    >
      <rect width="5" height="5" fill={sheet.paper} />
      <path d="M0 0V5" stroke={sheet.ink2} strokeWidth="1.4" />
    </pattern>
  </defs>
);

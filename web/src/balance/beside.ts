import type { Picture, Strip } from '@loka/core/balance';

/** The same picture of another period, to be looked up strip by strip. */
export interface BesideFlows {
  /** What that period is to the one shown: "the same weekdays last week". */
  words: string;
  total: number;
  /** Wh; null where nothing of that kind flowed there, or nothing is known of it. */
  of: (strip: Strip) => number | null;
}

/** Of the figures of a picture, each by the key of its strip. */
export function besideOf(words: string, picture: Picture): BesideFlows {
  const values = new Map<string, number>();
  const collect = ({ into, out }: Picture): void => {
    for (const strip of [...into, ...out]) {
      values.set(strip.key, strip.value);
      if (strip.inside) collect(strip.inside);
    }
  };
  collect(picture);
  return { words, total: picture.total, of: ({ key }) => values.get(key) ?? null };
}

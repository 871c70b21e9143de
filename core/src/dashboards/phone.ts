import { KIND_RULES, type DashboardElement } from './element.js';

export interface PhonePlace {
  id: string;
  /** Whether it takes half of the width, beside another that does. */
  half: boolean;
}

/** The phone's own arrangement: an order from top to bottom, and what is put away below a fold. */
export interface PhoneArrangement {
  shown: PhonePlace[];
  away: string[];
}

type Kinded = Pick<DashboardElement, 'id' | 'kind' | 'spot'>;

const placeFor = ({ id, kind }: Kinded): PhonePlace => ({ id, half: KIND_RULES[kind].half });

/** In the order in which the sheet is read; nothing put away. */
export const phoneFor = (elements: readonly Kinded[]): PhoneArrangement => ({
  shown: [...elements].sort((a, b) => a.spot.y - b.spot.y || a.spot.x - b.spot.x).map(placeFor),
  away: [],
});

/** The arrangement with every element once: what is gone is left out, what is new comes last. */
export function phoneWith(phone: PhoneArrangement, elements: readonly Kinded[]): PhoneArrangement {
  const there = new Map(elements.map((e) => [e.id, e]));
  const seen = new Set<string>();
  const first = (id: string): boolean => {
    if (!there.has(id) || seen.has(id)) return false;
    seen.add(id);
    return true;
  };
  const shown = phone.shown.filter(({ id }) => first(id));
  const away = phone.away.filter(first);
  const added = phoneFor(elements.filter(({ id }) => !seen.has(id))).shown;
  return { shown: [...shown, ...added], away };
}

/** The lines of the phone's screen: two halves that follow one another stand side by side. */
export function phoneLines(shown: readonly PhonePlace[]): PhonePlace[][] {
  const lines: PhonePlace[][] = [];
  for (const place of shown) {
    const last = lines.at(-1);
    if (place.half && last?.length === 1 && last[0]?.half) last.push(place);
    else lines.push([place]);
  }
  return lines;
}

/** An element at another place of the order; from below the fold it comes up. */
export function phoneMoved(phone: PhoneArrangement, id: string, to: number): PhoneArrangement {
  const place = phone.shown.find((p) => p.id === id) ?? { id, half: false };
  const rest = phone.shown.filter((p) => p.id !== id);
  const at = Math.min(Math.max(0, to), rest.length);
  return {
    shown: [...rest.slice(0, at), place, ...rest.slice(at)],
    away: phone.away.filter((a) => a !== id),
  };
}

/** An element put away below the fold, last. */
export const phoneAway = (phone: PhoneArrangement, id: string): PhoneArrangement => ({
  shown: phone.shown.filter((p) => p.id !== id),
  away: [...phone.away.filter((a) => a !== id), id],
});

import { freeId, KIND_RULES, type DashboardElement } from './element.js';
import { moved, onSheet } from './grid.js';
import { phoneFor, phoneWith, type PhoneArrangement } from './phone.js';

/** What a dashboard holds: its elements on the sheet of the desk, and how they are arranged on a phone. */
export interface DashboardContent {
  elements: DashboardElement[];
  phone: PhoneArrangement;
}

/** More than that nobody looks at, and a browser has to redraw. */
export const MOST_ELEMENTS = 100;

export const EMPTY_CONTENT: DashboardContent = { elements: [], phone: { shown: [], away: [] } };

/** With elements and the phone arrangement that the reading order gives. */
export const contentOf = (elements: DashboardElement[]): DashboardContent => ({
  elements,
  phone: phoneFor(elements),
});

/** The phone follows what is there. */
const following = (content: DashboardContent, elements: DashboardElement[]): DashboardContent => ({
  elements,
  phone: phoneWith(content.phone, elements),
});

/** One element at another spot of the sheet, or of another size; what it meets makes room. */
export function placed(
  content: DashboardContent,
  id: string,
  spot: DashboardElement['spot'],
): DashboardContent {
  const element = content.elements.find((e) => e.id === id);
  if (!element) return content;
  return { ...content, elements: moved(content.elements, id, onSheet(spot, KIND_RULES[element.kind].least)) };
}

/** One more; it stands last on the phone. What it meets on the sheet makes room. */
export const added = (content: DashboardContent, element: DashboardElement): DashboardContent =>
  following(
    content,
    moved([...content.elements, element], element.id, onSheet(element.spot, KIND_RULES[element.kind].least)),
  );

export const removed = (content: DashboardContent, id: string): DashboardContent =>
  following(
    content,
    content.elements.filter((e) => e.id !== id),
  );

/** Another like it, below it, and after it on the phone. */
export function duplicated(content: DashboardContent, id: string): DashboardContent {
  const element = content.elements.find((e) => e.id === id);
  if (!element) return content;
  const { spot } = element;
  return added(content, { ...element, id: freeId(content.elements), spot: { ...spot, y: spot.y + spot.h } });
}

/** Members of one element changed; where its kind asks for more room, it gets it. */
export function changed(
  content: DashboardContent,
  id: string,
  changes: Partial<DashboardElement>,
): DashboardContent {
  const elements = content.elements.map((e) => (e.id === id ? { ...e, ...changes } : e));
  const element = elements.find((e) => e.id === id);
  return element ? placed({ ...content, elements }, id, element.spot) : content;
}

/** The content put right: every element on the sheet without overlaps, and once on the phone. */
export function tidied({ elements, phone }: DashboardContent): DashboardContent {
  const spots = elements.map((e) => ({ ...e, spot: onSheet(e.spot, KIND_RULES[e.kind].least) }));
  const [first] = spots;
  const apart = first ? moved(spots, first.id, first.spot) : spots;
  return { elements: apart, phone: phoneWith(phone, apart) };
}

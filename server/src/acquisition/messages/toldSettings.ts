import { isMessage } from '@loka/core/definitions';
import { parsePayload, topicFor, valueInPayload, type MessageDefinition } from '@loka/core/messages';
import { isSetting } from '@loka/core/points';
import type { KnownPoint } from '../../book/deviceBook.js';

/** What a device last said of a setting: a value in base units, or why what it said is none. */
export type Told = { at: number } & ({ value: number } | { fault: string });

interface Listened {
  pointId: number;
  definition: MessageDefinition;
  told: Told | null;
  waiting: Set<(told: Told) => void>;
}

/**
 * The settings that the devices of a link tell by messages. Nobody can ask for one: what came last is what is known, and who
 * wants to know more waits for the next word.
 */
export class ToldSettings {
  private readonly byTopic = new Map<string, Listened[]>();
  private readonly byPoint = new Map<number, Listened>();

  /** The topics of settings of which nothing was kept from before. */
  readonly newTopics = new Set<string>();

  /**
   * @param changed is called when a device says something else of a setting than before
   * @param before whose place it takes: what was told by the devices that have not changed is kept
   */
  constructor(
    points: readonly KnownPoint[],
    private readonly changed: (pointId: number) => void,
    before?: { told: ToldSettings; changed: ReadonlySet<number> },
  ) {
    for (const { id: pointId, deviceId, definition, topic } of points) {
      if (!isMessage(definition) || !isSetting(definition)) continue;
      const at = topicFor(definition.topic, topic);
      const isKept = deviceId !== null && !before?.changed.has(deviceId);
      const known = isKept ? before?.told.byPoint.get(pointId) : undefined;
      if (!known) this.newTopics.add(at);
      const listened: Listened = known ?? { pointId, definition, told: null, waiting: new Set() };
      this.byTopic.set(at, [...(this.byTopic.get(at) ?? []), listened]);
      this.byPoint.set(pointId, listened);
    }
  }

  get topics(): string[] {
    return [...this.byTopic.keys()];
  }

  /** Takes a message in, also one that the broker has kept; whether a setting is told by it. */
  take(topic: string, payload: string, arrived: number): boolean {
    const listened = this.byTopic.get(topic);
    if (!listened) return false;
    const parsed = parsePayload(payload);
    for (const entry of listened) {
      const found = 'fault' in parsed ? parsed : valueInPayload(entry.definition, parsed.json, arrived);
      const told: Told = {
        at: arrived,
        ...('fault' in found ? { fault: found.fault } : { value: found.value }),
      };
      const before = entry.told;
      entry.told = told;
      for (const tell of entry.waiting) tell(told);
      if (before === null || !isSame(before, told)) this.changed(entry.pointId);
    }
    return true;
  }

  /** What a device last said of a setting; null when it has said nothing yet. */
  of(pointId: number): Told | null {
    return this.byPoint.get(pointId)?.told ?? null;
  }

  /**
   * Waits for a word on a setting.
   * @param enough whether it is the one that was waited for
   * @returns that word, or the last one that came until then; null when none came within so many milliseconds
   */
  next(
    pointId: number,
    withinMs: number,
    enough: (told: Told) => boolean = () => true,
  ): Promise<Told | null> {
    const entry = this.byPoint.get(pointId);
    if (!entry) return Promise.resolve(null);
    return new Promise((resolve) => {
      let last: Told | null = null;
      const end = () => {
        clearTimeout(timer);
        entry.waiting.delete(hear);
        resolve(last);
      };
      const hear = (told: Told) => {
        last = told;
        if (enough(told)) end();
      };
      const timer = setTimeout(end, withinMs);
      entry.waiting.add(hear);
    });
  }
}

const isSame = (a: Told, b: Told): boolean =>
  'value' in a && 'value' in b ? a.value === b.value : 'fault' in a && 'fault' in b;

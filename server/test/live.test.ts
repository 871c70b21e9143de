import type { LiveReading } from '@loka/contract/readings';
import { LiveReadings } from '../src/live/liveReadings.js';
import { Loka, until } from './support/loka.js';
import { makeSite, TestBuilding, type MadeSite } from './support/site.js';

// The stream that every screen lives on, over a real connection.
let loka: Loka;
let building: TestBuilding;
let site: MadeSite;

interface Sent {
  type: string;
  data: unknown;
}

/** A page that listens: the events as they come. */
class Page {
  readonly events: Sent[] = [];
  private readonly ending = new AbortController();
  private constructor(readonly reading: Promise<void>) {}

  static async open(base: string): Promise<Page> {
    let begin = (): void => undefined;
    const page: Page = new Page(new Promise<void>((resolve) => (begin = resolve)));
    const response = await fetch(`${base}/api/live`, { signal: page.ending.signal });
    expect(response.headers.get('content-type')).toContain('text/event-stream');
    void page.read(response).finally(begin);
    return page;
  }

  of<T>(type: string): T[] {
    return this.events.filter((e) => e.type === type).map((e) => e.data as T);
  }

  async close(): Promise<void> {
    this.ending.abort();
    await this.reading;
  }

  private async read(response: Response): Promise<void> {
    const decoder = new TextDecoder();
    let text = '';
    try {
      for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) {
        text += decoder.decode(chunk, { stream: true });
        const blocks = text.split('\n\n');
        text = blocks.pop() ?? '';
        for (const block of blocks) this.take(block);
      }
    } catch (error) {
      if ((error as Error).name !== 'AbortError') throw error;
    }
  }

  private take(block: string): void {
    const field = (name: string) =>
      block
        .split('\n')
        .find((line) => line.startsWith(`${name}: `))
        ?.slice(name.length + 2);
    const [type, data] = [field('event'), field('data')];
    if (type !== undefined && data !== undefined) this.events.push({ type, data: JSON.parse(data) });
  }
}

beforeAll(async () => {
  [loka, building] = await Promise.all([Loka.start(), TestBuilding.start()]);
  site = await makeSite(loka, building, ['main-meter']);
  await until(
    'readings',
    () => loka.app.get(LiveReadings).get(site.point('main-meter', 'voltage-l1'))?.v != null,
  );
});
afterAll(async () => {
  await loka.stop();
  await building.stop();
});

it('a page first gets all that is known, then what is new, and the server’s time', async () => {
  const page = await Page.open(loka.base);
  await until('the first readings', () => page.of('readings').length > 0);
  const [all] = page.of<LiveReading[]>('readings');
  const voltage = site.point('main-meter', 'voltage-l1');
  expect(all?.find((r) => r.pointId === voltage)?.v).toBeGreaterThan(200);
  await until('news', () => page.of('readings').length > 3);
  const seen = page
    .of<LiveReading[]>('readings')
    .flat()
    .filter((r) => r.pointId === voltage)
    .map((r) => r.t);
  expect(seen.length).toBeGreaterThan(1);
  expect([...seen].sort((a, b) => a - b)).toEqual(seen);
  // Of one point no batch has more than the newest, or a page would redraw what is past.
  for (const batch of page.of<LiveReading[]>('readings'))
    expect(new Set(batch.map((r) => r.pointId)).size).toBe(batch.length);
  const beat = await until('a beat', () => page.of<{ now: number }>('beat')[0]);
  expect(Math.abs(beat.now - Date.now())).toBeLessThan(20_000);
  await page.close();
});
it('what somebody changes is told to all pages by the name of the list', async () => {
  const pages = await Promise.all([Page.open(loka.base), Page.open(loka.base)]);
  await until('both listen', () => pages.every((page) => page.of('beat').length > 0));
  await loka.ask('/register-maps', 'POST', { name: 'New', description: '', points: [] });
  for (const page of pages)
    await until('told', () =>
      page.of<string[]>('changed').some((topics) => topics.includes('register-maps')),
    );
  await Promise.all(pages.map((page) => page.close()));
});
it('a page that goes away is let go of', async () => {
  const page = await Page.open(loka.base);
  await until('it listens', () => page.of('beat').length > 0);
  const { stream } = loka.app.get(LiveReadings);
  const listening = (stream as unknown as { observers?: unknown[] }).observers?.length ?? NaN;
  await page.close();
  await until(
    'one fewer',
    () => ((stream as unknown as { observers?: unknown[] }).observers?.length ?? NaN) < listening,
  );
});

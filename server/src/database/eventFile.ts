import { appendFile, mkdir, open, readFile, rm } from 'node:fs/promises';
import { dirname } from 'node:path';

/** Lines of JSON in a file, on disk before anybody goes on. A line that a crash has cut off is none. */
export class EventFile<T> {
  constructor(private readonly path: string) {}

  /** What lies there, oldest first. */
  async read(): Promise<T[]> {
    let text: string;
    try {
      text = await readFile(this.path, 'utf8');
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return [];
      throw error;
    }
    return text.split('\n').flatMap((line) => {
      try {
        return line === '' ? [] : [JSON.parse(line) as T];
      } catch {
        return [];
      }
    });
  }

  /** Puts lines on disk; resolves when they are there. */
  async append(events: readonly T[]): Promise<void> {
    await mkdir(dirname(this.path), { recursive: true });
    // The first line of a run starts again, also where a crash has cut off the one before.
    await appendFile(this.path, `\n${events.map((event) => JSON.stringify(event)).join('\n')}\n`, {
      mode: 0o600,
    });
    const file = await open(this.path, 'r+');
    await file.sync().finally(() => file.close());
  }

  async clear(): Promise<void> {
    await rm(this.path, { force: true });
  }
}

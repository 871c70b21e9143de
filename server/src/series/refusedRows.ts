import { appendFile, mkdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { StoredSample } from './journal.js';

/** Rows that the database refused, each with the reason, on disk: one JSON object a line. Nothing reads them but people. */
export class RefusedRows {
  private rows = 0;
  private lastReason: string | null = null;

  constructor(private readonly folder: string) {}

  private get path(): string {
    return join(this.folder, 'refused.txt');
  }

  /** Counts what earlier runs have left. */
  async open(): Promise<void> {
    await mkdir(this.folder, { recursive: true });
    const text = await readFile(this.path, 'utf8').catch((error: NodeJS.ErrnoException) => {
      if (error.code === 'ENOENT') return '';
      throw error;
    });
    const lines = text.split('\n').filter(Boolean);
    this.rows = lines.length;
    const last = lines.at(-1);
    if (last) this.lastReason = reasonIn(last);
  }

  async put(sample: StoredSample, reason: string): Promise<void> {
    this.rows++;
    this.lastReason = reason;
    await appendFile(this.path, `${JSON.stringify({ at: new Date().toISOString(), reason, ...sample })}\n`);
  }

  status(): { rows: number; lastReason: string | null } {
    return { rows: this.rows, lastReason: this.lastReason };
  }
}

/** A line that a crash has cut off has no reason to be read. */
function reasonIn(line: string): string | null {
  try {
    return (JSON.parse(line) as { reason: string }).reason;
  } catch {
    return null;
  }
}

import { Injectable } from '@nestjs/common';
import pTimeout from 'p-timeout';
import type { TDocumentDefinitions } from 'pdfmake/interfaces.js';
import { Worker } from 'node:worker_threads';

/** A document without functions: it goes to another thread. `foot` stands at the foot of every page, with its number. */
export type Sheet = Pick<
  TDocumentDefinitions,
  'content' | 'styles' | 'defaultStyle' | 'info' | 'pageMargins'
> & {
  foot?: string;
};

const WORKER = new URL('../../workers/pdf.mjs', import.meta.url);
const LONGEST = 120_000;

/** Sets documents as PDF, one at a time, in a thread of their own: what is read and switched does not wait for them. */
@Injectable()
export class PdfPress {
  private running: Promise<unknown> = Promise.resolve();

  /** @throws when it takes longer than two minutes, or cannot be set */
  press(sheet: Sheet): Promise<Buffer> {
    const turn = this.running.then(() => this.set(sheet));
    this.running = turn.catch(() => undefined);
    return turn;
  }

  private async set(sheet: Sheet): Promise<Buffer> {
    const worker = new Worker(WORKER, { workerData: { pageSize: 'A4', ...sheet } });
    const done = new Promise<Buffer>((resolve, reject) => {
      worker.once('message', (bytes: Uint8Array) => resolve(Buffer.from(bytes)));
      worker.once('error', reject);
      worker.once('exit', (code) => reject(new Error(`the PDF was not set (exit ${code})`)));
    });
    try {
      return await pTimeout(done, { milliseconds: LONGEST, message: 'the PDF took longer than two minutes' });
    } finally {
      await worker.terminate();
    }
  }
}

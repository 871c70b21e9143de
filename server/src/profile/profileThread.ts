import type {
  BackupAnswer,
  BackupQuestion,
  Closing,
  KnownLoad,
  LineCircuit,
  LoadSteps,
  Phases,
  PowerSpans,
  Profile,
  WhatIfAnswer,
  WhatIfQuestion,
} from '@loka/core/profile';
import { Injectable, Logger, OnModuleDestroy } from '@nestjs/common';
import pTimeout from 'p-timeout';
import { Worker } from 'node:worker_threads';

const WORKER = new URL('../../workers/profile.mjs', import.meta.url);
const LONGEST = 60_000;

/** What the thread can be asked, and what it answers. */
interface Tasks {
  profile: { question: { spans: PowerSpans; zone: string; closing: Closing }; answer: Profile };
  backup: { question: BackupQuestion; answer: BackupAnswer };
  phases: {
    question: { lines: [PowerSpans, PowerSpans, PowerSpans]; circuits: LineCircuit[]; nominal: number };
    answer: Phases | null;
  };
  steps: {
    question: { own: PowerSpans; metered: PowerSpans[]; known: KnownLoad[] };
    answer: LoadSteps;
  };
  whatIf: {
    question: WhatIfQuestion & { zone: string; closing: Closing };
    answer: WhatIfAnswer | { cannot: string };
  };
}
interface Asked {
  resolve: (answer: never) => void;
  reject: (error: Error) => void;
}
type Answer = { id: number } & ({ answer: never } | { fault: string });

/** Works profiles, and what follows from them, out in a thread of their own, one after the other; it is started when the first one is asked for. */
@Injectable()
export class ProfileThread implements OnModuleDestroy {
  private readonly log = new Logger('profile');
  private worker: Worker | null = null;
  private readonly asked = new Map<number, Asked>();
  private last = 0;

  /** @throws Error when it takes longer than a minute, or cannot be worked out */
  async work<T extends keyof Tasks>(task: T, question: Tasks[T]['question']): Promise<Tasks[T]['answer']> {
    const id = ++this.last;
    // First, for what cannot be handed over is told at once.
    this.started().postMessage({ id, task, question });
    const done = new Promise<Tasks[T]['answer']>((resolve, reject) =>
      this.asked.set(id, { resolve, reject }),
    );
    try {
      return await pTimeout(done, {
        milliseconds: LONGEST,
        message: `the ${task} took longer than a minute`,
      });
    } catch (error) {
      // Whatever it is busy with, the next one starts again.
      if (this.asked.delete(id)) await this.end(new Error('what was asked before it took too long'));
      throw error;
    }
  }

  async onModuleDestroy(): Promise<void> {
    await this.end(new Error('the server stops'));
  }

  private started(): Worker {
    if (this.worker) return this.worker;
    const worker = new Worker(WORKER);
    this.worker = worker;
    worker.on('message', (answer: Answer) => {
      const asked = this.asked.get(answer.id);
      this.asked.delete(answer.id);
      if ('answer' in answer) asked?.resolve(answer.answer);
      else asked?.reject(new Error(answer.fault));
    });
    worker.on('error', (error: Error) => {
      this.log.error(`the thread has failed: ${error.message}`);
      if (this.worker === worker) void this.end(error);
    });
    return worker;
  }

  /** Ends the thread, and with it what it was asked for. */
  private async end(why: Error): Promise<void> {
    const { worker } = this;
    this.worker = null;
    for (const { reject } of this.asked.values()) reject(why);
    this.asked.clear();
    await worker?.terminate();
  }
}

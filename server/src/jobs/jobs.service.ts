import type { Job } from '@loka/contract/readings';
import { Injectable, Logger } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { ChangeFeed } from '../live/changeFeed.js';
import { notFound } from '../problem/errors.js';

/** Long work under way: its title, how far it is, and how to stop it. Ended ones are kept for a while to be seen. */
export interface JobHandle {
  progress(share: number): void;
  /** True once somebody has asked to stop. */
  readonly cancelled: boolean;
}

const KEPT = 20;

@Injectable()
export class JobsService {
  private readonly log = new Logger('jobs');
  private readonly jobs = new Map<string, Job & { cancelled: boolean; onCancel?: () => Promise<void> }>();

  constructor(private readonly changes: ChangeFeed) {}

  list(): Job[] {
    return [...this.jobs.values()]
      .map(({ id, title, progress, state, message }) => ({ id, title, progress, state, message }))
      .reverse();
  }

  /** Runs long work as a job. The promise settles when the work has ended, whichever way; it never rejects. */
  async run(
    title: string,
    work: (handle: JobHandle) => Promise<string | null>,
    onCancel?: () => Promise<void>,
  ): Promise<void> {
    const job = {
      id: randomUUID(),
      title,
      progress: 0,
      state: 'running' as Job['state'],
      message: null as string | null,
      cancelled: false,
      onCancel,
    };
    this.jobs.set(job.id, job);
    for (const [id, old] of this.jobs)
      if (this.jobs.size > KEPT && old.state !== 'running') this.jobs.delete(id);
    this.changes.say('jobs');
    try {
      job.message = await work({
        progress: (share) => {
          job.progress = share;
          this.changes.say('jobs');
        },
        get cancelled() {
          return job.cancelled;
        },
      });
      job.state = job.cancelled ? 'cancelled' : 'done';
      job.progress = job.cancelled ? job.progress : 1;
    } catch (error) {
      job.state = 'failed';
      job.message = (error as Error).message;
      this.log.error(`${title}: ${job.message}`, (error as Error).stack);
    }
    this.changes.say('jobs');
  }

  async cancel(id: string): Promise<void> {
    const job = this.jobs.get(id);
    if (!job) throw notFound('job', id);
    if (job.state !== 'running') return;
    job.cancelled = true;
    await job.onCancel?.();
  }
}

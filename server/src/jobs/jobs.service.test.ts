import type { ChangedTopic } from '@loka/contract/readings';
import { ChangeFeed } from '../live/changeFeed.js';
import { JobsService } from './jobs.service.js';

const make = () => {
  const feed = new ChangeFeed();
  const said: ChangedTopic[] = [];
  feed.changed.subscribe((topic) => said.push(topic));
  return { jobs: new JobsService(feed), said };
};

it('shows how far a job is and how it ended', async () => {
  const { jobs, said } = make();
  await jobs.run('Sum', async (job) => {
    job.progress(0.5);
    expect(jobs.list()[0]).toMatchObject({ title: 'Sum', progress: 0.5, state: 'running' });
    return 'three points';
  });
  expect(jobs.list()[0]).toMatchObject({ state: 'done', progress: 1, message: 'three points' });
  expect(said.length).toBeGreaterThanOrEqual(3);
});
it('says why a job failed, and never rejects', async () => {
  const { jobs } = make();
  await jobs.run('Break', async () => {
    throw new Error('disk full');
  });
  expect(jobs.list()[0]).toMatchObject({ state: 'failed', message: 'disk full' });
});
it('cancels: the work hears of it, and what has to happen happens', async () => {
  const { jobs } = make();
  let undone = false;
  let release = () => {};
  const gate = new Promise<void>((resolve) => (release = resolve));
  const running = jobs.run(
    'Long',
    async (job) => {
      await gate;
      return job.cancelled ? 'stopped' : 'went on';
    },
    async () => {
      undone = true;
    },
  );
  await jobs.cancel(jobs.list()[0]?.id ?? '');
  release();
  await running;
  expect(undone).toBe(true);
  expect(jobs.list()[0]).toMatchObject({ state: 'cancelled', message: 'stopped' });
  await expect(jobs.cancel('nobody')).rejects.toThrow('There is no job nobody');
});

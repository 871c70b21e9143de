import { withPatience } from './patience.js';

/** An answer that comes over the event loop, as one of a socket does, after `ms`. */
const answerAfter = (ms: number) => new Promise<string>((resolve) => setTimeout(() => resolve('here'), ms));

function stall(ms: number): void {
  for (const end = performance.now() + ms; performance.now() < end;);
}

it('takes what comes in time, and what fails as it fails', async () => {
  await expect(withPatience(answerAfter(10), 1000, 'late')).resolves.toBe('here');
  await expect(withPatience(Promise.reject(new Error('no')), 1000, 'late')).rejects.toThrow('no');
});

it('gives up on what does not come', async () => {
  await expect(withPatience(new Promise(() => undefined), 300, 'late')).rejects.toThrow('late');
});

it('does not blame the other side for a time in which this one did not listen', async () => {
  // The answer is there while the process computes, and can only be taken after that.
  const waiting = withPatience(answerAfter(350), 300, 'late');
  stall(600);
  await expect(waiting).resolves.toBe('here');
});

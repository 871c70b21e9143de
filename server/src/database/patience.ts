/** Steps in which patience is counted, ms. */
const STEP = 100;

/**
 * What a promise comes to, or a rejection with `message` after `ms` in which this process could have taken the answer. A
 * stretch in which it was busy with something long counts as one step: what it did not listen for has not been refused.
 */
export function withPatience<T>(answer: Promise<T>, ms: number, message: string): Promise<T> {
  return new Promise((resolve, reject) => {
    let steps = 0;
    // An interval that is late fires once, however many of its turns have passed.
    const timer = setInterval(() => {
      if (++steps * STEP < ms) return;
      clearInterval(timer);
      reject(new Error(message));
    }, STEP);
    answer.then(resolve, reject).finally(() => clearInterval(timer));
  });
}

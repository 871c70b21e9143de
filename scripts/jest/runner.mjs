import { createRunner } from 'jest-light-runner';

/**
 * All files of tests that a worker runs share what they have read of the code: a world of its own for each costs more
 * than the tests. The workers are processes and not threads, since the driver of the serial port works in the first
 * thread of a process only.
 *
 * The library asks all workers over one channel, so that the answer for one goes to another that does not listen yet,
 * and the first one waits for ever; here each task has a channel of its own.
 */
export default class Runner extends createRunner({ runtime: 'child_process' }) {
  _runTest(test) {
    const known = this._testRunners.get(test.context.config);
    if (known) return known.run(test);
    const first = super._runTest(test);
    const made = this._testRunners.get(test.context.config);
    const workerData = {
      globalConfig: this._globalConfig,
      projectConfig: test.context.config,
      runtime: this._runtime,
    };
    made.run = ({ path }) => made.pool.run(path, { channel: channelWith(workerData) });
    return first;
  }
}

/** What a worker is told when it asks. */
function channelWith(workerData) {
  const listeners = new Set();
  return {
    onMessage: (listener) => listeners.add(listener),
    postMessage(message) {
      if (message !== 'jest-light-runner-get-worker-data') return;
      for (const listener of listeners) listener({ type: 'jest-light-runner-worker-data', workerData });
      listeners.clear();
    },
  };
}

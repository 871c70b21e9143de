import { addEventHandler } from 'jest-circus';
import { PATIENCE } from './patience.mjs';

/** How long a test or a hook needs at most that says nothing else, ms. */
const USUAL = 60_000;

// The runner knows no time-outs: what hangs would hold up the whole run.
addEventHandler((event, { currentDescribeBlock: block }) => {
  const added =
    event.name === 'add_test' ? block.children.at(-1) : event.name === 'add_hook' ? block.hooks.at(-1) : null;
  if (added?.fn) added.fn = within(added.fn, (event.timeout ?? USUAL) * PATIENCE);
});

const within = (work, ms) => async () => {
  let timer;
  const late = new Promise((_resolve, reject) => {
    timer = setTimeout(() => reject(new Error(`not done within ${ms} ms`)), ms);
  });
  try {
    return await Promise.race([work(), late]);
  } finally {
    clearTimeout(timer);
  }
};

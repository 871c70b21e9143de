import 'reflect-metadata';
import { createApp } from './app.js';
import { readConfig } from './config.js';
import { SampleStore } from './series/sampleStore.js';

/** A stop has to come to an end, ms, whatever is in its way: the database may hang, a device may not let go. */
const LONGEST_STOP = 3500;

// What Loka writes is its owner's alone.
process.umask(0o077);
const config = readConfig(process.env);
const app = await createApp(config, ['warn', 'error']);
// Until there are accounts, nobody but this machine may speak to it; where it listens further, only the push door answers.
await app.listen(config.port, config.host ?? '127.0.0.1');
console.log(`loka ready: http://localhost:${config.port}`);

// From here on it runs. What no edge has foreseen must not leave loads unprotected: it is told, and the rest goes on. What
// fails before ends the start.
for (const event of ['unhandledRejection', 'uncaughtException'] as const)
  process.on(event, (error: unknown) => console.error('not foreseen:', error));

for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.once(signal, () => {
    setTimeout(() => {
      app.get(SampleStore).rescue();
      console.error(`not stopped within ${LONGEST_STOP} ms; what was waiting is on disk`);
      process.exit(1);
    }, LONGEST_STOP).unref();
  });

import 'reflect-metadata';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { createApp } from './app.js';
import { readConfig } from './config.js';
import { SampleStore } from './series/sampleStore.js';

// What no edge has foreseen must not leave loads unprotected: it is told, and the rest goes on.
process.on('unhandledRejection', (error) => console.error('not foreseen:', error));
process.on('uncaughtException', (error) => console.error('not foreseen:', error));

const running: { app?: NestExpressApplication } = {};

// A stop has to come to an end, whatever is in its way: the database may hang, a device may not let go.
const LONGEST_STOP = 3500;
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.once(signal, () => {
    setTimeout(() => {
      running.app?.get(SampleStore).rescue();
      console.error(`not stopped within ${LONGEST_STOP} ms; what was waiting is on disk`);
      process.exit(1);
    }, LONGEST_STOP).unref();
  });

const config = readConfig(process.env);
const app = await createApp(config, ['warn', 'error']);
running.app = app;
// Until there are accounts, nobody but this machine may speak to it; where it listens further, only the push door answers.
await app.listen(config.port, config.host ?? '127.0.0.1');
console.log(`loka ready: http://localhost:${config.port}`);

import 'reflect-metadata';
import { createApp } from './app.js';
import { readConfig } from './config.js';

// What no edge has foreseen must not leave loads unprotected: it is told, and the rest goes on.
process.on('unhandledRejection', (error) => console.error('not foreseen:', error));
process.on('uncaughtException', (error) => console.error('not foreseen:', error));

const config = readConfig(process.env);
const app = await createApp(config, ['warn', 'error']);
// Until there are accounts, nobody but this machine may speak to it; where it listens further, only the push door answers.
await app.listen(config.port, config.host ?? '127.0.0.1');
console.log(`loka ready: http://localhost:${config.port}`);

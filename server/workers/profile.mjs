// Finds what loads do, beside the server's thread: a month of a busy load takes a good part of a second, and what reads
// and switches does not wait for it. Plain JavaScript on what is built, so that it starts the same from the sources.
import { profileCalendar, profileOf } from '@loka/core/profile';
import { parentPort } from 'node:worker_threads';

parentPort.on('message', ({ id, spans, zone }) => {
  try {
    parentPort.postMessage({ id, profile: profileOf(spans, profileCalendar(zone, spans)) });
  } catch (error) {
    parentPort.postMessage({ id, fault: error instanceof Error ? error.message : String(error) });
  }
});

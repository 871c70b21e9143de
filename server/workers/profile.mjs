// Finds what loads do, and what follows from it, beside the server's thread: a month of a busy load takes a good part of a
// second, and what reads and switches does not wait for it. Plain JavaScript on what is built, so that it starts the same from
// the sources.
import {
  backupOf,
  CannotChange,
  leftOver,
  loadSteps,
  phasesOf,
  profileCalendar,
  profileOf,
  whatIf,
} from '@loka/core/profile';
import { parentPort } from 'node:worker_threads';

const TASKS = {
  profile: ({ spans, zone, closing }) => profileOf(spans, profileCalendar(zone, spans, closing)),
  backup: backupOf,
  whatIf: ({ zone, closing, ...question }) => {
    try {
      return whatIf(question, profileCalendar(zone, question.load, closing));
    } catch (error) {
      if (error instanceof CannotChange) return { cannot: error.message };
      throw error;
    }
  },
  steps: ({ own, metered, known }) => loadSteps(leftOver(own, metered), known),
  phases: ({ lines, circuits, nominal }) => phasesOf(lines, circuits, nominal),
};

parentPort.on('message', ({ id, task, question }) => {
  try {
    parentPort.postMessage({ id, answer: TASKS[task](question) });
  } catch (error) {
    parentPort.postMessage({ id, fault: error instanceof Error ? error.message : String(error) });
  }
});

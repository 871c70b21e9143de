export * from './powerSpans.js';
export * from './levels.js';
export * from './cycles.js';
export * from './demand.js';
export * from './duration.js';
export * from './days.js';
export * from './recurring.js';
export * from './visits.js';

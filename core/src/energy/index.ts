export * from './energy.js';
export * from './counter.js';
export * from './remainder.js';
export * from './running.js';

export * from './energy.js';
export * from './counter.js';
export * from './remainder.js';

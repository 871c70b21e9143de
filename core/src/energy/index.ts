export * from './energy.js';
export * from './counter.js';

export * from './days.js';
export * from './period.js';

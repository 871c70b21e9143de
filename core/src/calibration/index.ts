export * from './correction.js';
export * from './capture.js';
export * from './fit.js';
export * from './error.js';
export * from './uncertainty.js';

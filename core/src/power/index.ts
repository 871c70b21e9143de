export * from './power.js';
export * from './unbalance.js';
export * from './estimate.js';

export * from './basics.js';
export * from './scaling.js';

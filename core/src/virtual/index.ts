export * from './definition.js';
export * from './formula.js';
export * from './units.js';
export * from './compute.js';
export * from './cycle.js';

export * from './anyDefinition.js';
export * from './digits.js';
export * from './step.js';
export * from './stuck.js';

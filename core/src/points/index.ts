export * from './basics.js';
export * from './definition.js';

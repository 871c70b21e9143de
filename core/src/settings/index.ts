export * from './applied.js';
export * from './role.js';
export * from './state.js';

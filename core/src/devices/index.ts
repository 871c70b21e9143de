export * from './addressRange.js';
export * from './plausible.js';

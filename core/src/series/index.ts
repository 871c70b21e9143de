export * from './quality.js';
export * from './sample.js';
export * from './rollup.js';
export * from './gaps.js';
export * from './moves.js';

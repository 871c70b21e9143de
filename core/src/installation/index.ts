export * from './node.js';
export * from './job.js';

export * from './node.js';
export * from './job.js';
export * from './fit.js';
export * from './expect.js';
export * from './feedsIn.js';
export * from './system.js';
export * from './purpose.js';

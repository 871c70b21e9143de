export * from './amount.js';
export * from './balance.js';
export * from './picture.js';
export * from './selfUse.js';
export * from './limit.js';

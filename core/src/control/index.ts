export * from './cutOff.js';
export * from './switchState.js';
export * from './limitMargin.js';

export * from './cutOff.js';
export * from './switchState.js';

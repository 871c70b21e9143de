export * from './accuracy.js';
export * from './reach.js';
export * from './sensing.js';
export * from './sensingInWords.js';

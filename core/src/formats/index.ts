export * from './number.js';
export * from './typed.js';

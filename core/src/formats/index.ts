export * from './number.js';

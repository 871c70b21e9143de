export * from './quantity.js';

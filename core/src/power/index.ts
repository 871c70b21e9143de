export * from './power.js';

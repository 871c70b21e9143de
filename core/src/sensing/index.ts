export * from './sensing.js';

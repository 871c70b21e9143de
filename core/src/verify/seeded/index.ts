export * from './installations.js';

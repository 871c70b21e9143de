export * from './limit.js';

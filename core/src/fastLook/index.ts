export * from './ramp.js';

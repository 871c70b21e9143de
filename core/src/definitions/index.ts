export * from './anyDefinition.js';

export * from './content.js';
export * from './element.js';
export * from './exchange.js';
export * from './grid.js';
export * from './phone.js';
export * from './ready.js';

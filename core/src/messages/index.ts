export * from './definition.js';
export * from './newMessage.js';
export * from './topic.js';
export * from './pointer.js';
export * from './payload.js';
export * from './senml.js';
export * from './check.js';
export * from './command.js';

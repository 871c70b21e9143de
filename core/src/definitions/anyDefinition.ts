import type { MessageDefinition } from '../messages/definition.js';
import type { PointDefinition } from '../registers/definition.js';
import { REGISTER_KINDS } from '../registers/types.js';
import type { FormulaDefinition } from '../virtual/definition.js';

/** How a point's value comes about: from registers, from messages, or from other points. */
export type AnyDefinition = PointDefinition | MessageDefinition | FormulaDefinition;

export const isRegister = (definition: AnyDefinition): definition is PointDefinition =>
  (REGISTER_KINDS as readonly string[]).includes(definition.kind);
export const isMessage = (definition: AnyDefinition): definition is MessageDefinition =>
  definition.kind === 'message';
export const isFormula = (definition: AnyDefinition): definition is FormulaDefinition =>
  definition.kind === 'formula';
/** Whether the value is a text, which is shown but not recorded. */
export const isText = (definition: AnyDefinition): boolean =>
  isRegister(definition) && definition.type === 'string';

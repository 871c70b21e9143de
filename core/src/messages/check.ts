import { QUANTITIES, unitFactor } from '../quantities/index.js';
import { isSetting, isWritable } from '../points/basics.js';
import { scalingLine } from '../points/scaling.js';
import { DEVICE_PLACE, type MessageDefinition } from './definition.js';
import { stepsOf } from './pointer.js';
import { topicFault } from './topic.js';

/** Something wrong with a value of a message map, at the field where it was typed. */
export interface MessageFault {
  index: number;
  field: keyof MessageDefinition;
  message: string;
}

/** Everything that is wrong with a message map's values. */
export function checkMessages(points: readonly MessageDefinition[]): MessageFault[] {
  const faults = points.flatMap(checkMessage);
  points.forEach((point, index) => {
    if (points.findIndex((p) => p.name === point.name) < index)
      faults.push({ index, field: 'name', message: `“${point.name}” stands twice.` });
    else if (points.findIndex((p) => p.key === point.key) < index)
      faults.push({ index, field: 'key', message: `The key “${point.key}” is used twice.` });
  });
  return faults;
}

/** A setting is told on one topic and sent on another. */
function checkSetting(point: MessageDefinition, index: number): MessageFault[] {
  const faults: MessageFault[] = [];
  const fault = (field: keyof MessageDefinition, message: string) => faults.push({ index, field, message });
  if (isSetting(point) !== (point.setting !== undefined))
    fault('setting', isSetting(point) ? 'Choose what it sets.' : 'Only a setting sets something.');
  if (!isSetting(point)) {
    if (point.setTopic !== undefined) fault('setTopic', 'Only a setting has a topic on which it is sent.');
    return faults;
  }
  if (point.setTopic !== undefined) {
    const topic = topicFault(point.setTopic.replaceAll(DEVICE_PLACE, 'x'));
    if (topic) fault('setTopic', topic);
    else if (point.setTopic === point.topic)
      fault(
        'setTopic',
        'What is sent on the topic on which it is told would be taken for the device’s own word.',
      );
  }
  try {
    if (stepsOf(point.setPointer ?? '').some((step) => /^(0|[1-9]\d*)$/.test(step)))
      fault('setPointer', 'A setting is sent in an object, not in a list.');
  } catch (error) {
    fault('setPointer', `${(error as Error).message}.`);
  }
  return faults;
}

function checkMessage(point: MessageDefinition, index: number): MessageFault[] {
  const faults: MessageFault[] = [];
  const fault = (field: keyof MessageDefinition, message: string) => faults.push({ index, field, message });
  const topic = topicFault(point.topic.replaceAll(DEVICE_PLACE, 'x'));
  if (topic) fault('topic', topic);
  for (const field of ['pointer', 'timePointer'] as const)
    try {
      stepsOf(point[field] ?? '');
    } catch (error) {
      fault(field, `${(error as Error).message}.`);
    }
  if (unitFactor(point.quantity, point.unit) === undefined)
    fault('unit', `${QUANTITIES[point.quantity].label} does not come in ${point.unit || 'no unit'}.`);
  if ((point.on === undefined) !== (point.off === undefined))
    fault('off', 'Type both words, for on and for off.');
  else if (point.on !== undefined && point.on === point.off) fault('off', 'On and off must differ.');
  if (point.access === 'read-write')
    fault('access', 'A command has one topic and its state another: make two values of it.');
  faults.push(...checkSetting(point, index));
  if (isWritable(point) && point.pointer !== '') fault('pointer', 'A command is the whole payload.');
  try {
    scalingLine(point.scaling);
  } catch (error) {
    fault('scaling', `${(error as Error).message}.`);
  }
  return faults;
}

import { newMessage, type MessageDefinition } from '@loka/core/messages';
import type { Quantity } from '@loka/core/quantities';
import { type ShippedMap } from './rows.js';

/** Settings are told and set as JSON on topics of their own. */
const SETTING = {
  topic: '{device}/settings',
  setTopic: '{device}/settings/wanted',
  access: 'setting',
  qos: 1,
} as const;

export function plugMeter(): ShippedMap {
  const report = (
    key: string,
    name: string,
    quantity: Quantity,
    unit: string,
    pointer: string,
  ): MessageDefinition =>
    newMessage({ key, name, quantity, unit, pointer, timePointer: '/at', intervalMs: 2000 });
  const contact = { quantity: 'contact-state', intervalMs: 2000 } as const;
  return {
    name: 'Plug meter with relay, JSON messages',
    description: 'One report with all values; the contact is commanded and reported on topics of its own.',
    messages: [
      report('voltage', 'Voltage', 'voltage', 'V', '/mains/volts'),
      report('current', 'Current', 'current', 'A', '/mains/amps'),
      report('power', 'Active power', 'active-power', 'W', '/mains/watts'),
      report('power-factor', 'Power factor', 'power-factor', '', '/mains/factor'),
      report('energy-import', 'Energy imported', 'energy-import', 'kWh', '/counter/kwh'),
      newMessage({
        ...contact,
        key: 'command',
        name: 'Relay',
        topic: '{device}/contact/wanted',
        access: 'write',
        on: 'close',
        off: 'open',
        qos: 1,
      }),
      // The contact also has a topic of its own, on which it is told once; the report repeats it, so that silence is noticed.
      newMessage({ ...contact, key: 'contact', name: 'Contact', pointer: '/closed', timePointer: '/at' }),
      newMessage({
        ...SETTING,
        key: 'report-interval',
        name: 'Report interval',
        quantity: 'duration',
        unit: 's',
        setting: 'report-interval',
        pointer: '/every',
        setPointer: '/every',
      }),
      newMessage({
        ...SETTING,
        key: 'turned',
        name: 'Direction',
        setting: 'reversed',
        pointer: '/turned',
        setPointer: '/turned',
        on: 'true',
        off: 'false',
        names: [
          { value: 0, name: 'as it flows' },
          { value: 1, name: 'turned round' },
        ],
      }),
    ],
    availability: { topic: '{device}/online', online: 'yes', offline: 'no' },
  };
}

export function thermometer(): ShippedMap {
  return {
    name: 'Thermometer, degrees as a plain number',
    description: 'Degrees Celsius as a plain number.',
    messages: [
      newMessage({
        key: 'temperature',
        name: 'Temperature',
        quantity: 'temperature',
        unit: '°C',
        topic: '{device}/degrees',
        intervalMs: 5000,
      }),
    ],
  };
}

export function bareClamp(): ShippedMap {
  return {
    name: 'Bare clamp, current as a plain number',
    description: 'Amperes as a plain number. It has no voltage: a virtual meter makes power of it.',
    messages: [
      newMessage({
        key: 'current',
        name: 'Current',
        quantity: 'current',
        unit: 'A',
        topic: '{device}/amps',
        intervalMs: 5000,
      }),
    ],
  };
}

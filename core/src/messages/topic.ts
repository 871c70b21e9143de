import { DEVICE_PLACE } from './definition.js';

/** The topic of a definition for a device: `{device}` becomes its base topic. */
export const topicFor = (template: string, base: string): string =>
  template.replaceAll(DEVICE_PLACE, base.replace(/\/+$/, ''));

/** A topic seen on the wire as a template of a device's map: the device's base topic becomes `{device}`. */
export const templateOf = (topic: string, base: string): string =>
  base !== '' && (topic === base || topic.startsWith(`${base}/`))
    ? `${DEVICE_PLACE}${topic.slice(base.length)}`
    : topic;

/**
 * Why a topic cannot be subscribed to as one topic; null when it can (MQTT 5.0, 4.7: wildcards, the null character
 * and more than 65535 bytes are not allowed in a topic name).
 */
export function topicFault(topic: string): string | null {
  if (topic === '') return 'Type a topic, for example bakery/plug-1/status.';
  if (/[+#]/.test(topic)) return 'A topic has no + and no #: one value comes from one topic.';
  // eslint-disable-next-line no-control-regex -- these are what is refused
  if (/[\u0000-\u001f\u007f]/.test(topic)) return 'A topic has no control characters.';
  if (topic.length > 500) return 'A topic has at most 500 characters here.';
  return null;
}

/** The levels of a topic. */
export const levelsOf = (topic: string): string[] => topic.split('/');

import type { TopicSeen } from '@loka/contract/messages';
import { parsePayload, valueInPayload, type MessageDefinition, type MessageValue } from '@loka/core/messages';

/** What a value gives with what has been seen on its topic, or words for why it gives nothing. */
export function givenBy(definition: MessageDefinition, { payload, cut, at }: TopicSeen): MessageValue {
  if (cut) return { fault: 'The payload is too long to be looked into here; the device’s readings show it.' };
  const parsed = parsePayload(payload);
  return 'fault' in parsed ? parsed : valueInPayload(definition, parsed.json, at);
}

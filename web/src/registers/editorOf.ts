import type { RegisterMap } from '@loka/contract/registers';

/** Where a map is edited: registers and messages each have their own editor. */
export function editorOf(map: RegisterMap, deviceId = map.deviceIds[0]): string {
  const area = map.messages.length > 0 ? 'messages' : 'map';
  return `/field/${area}/${map.id}${deviceId ? `?device=${deviceId}` : ''}`;
}

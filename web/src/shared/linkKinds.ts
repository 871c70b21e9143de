import type { Link, LinkInput, LinkKind } from '@loka/contract/links';

/** The kinds of link in the trade's words. */
export const LINK_WORDS: Record<LinkKind, string> = {
  'modbus-tcp': 'Modbus TCP',
  'modbus-rtu-tcp': 'Modbus RTU over TCP (a gateway)',
  'modbus-serial': 'Modbus RTU on a serial line',
  mqtt: 'MQTT broker',
  'http-push': 'HTTP push (devices post by themselves)',
};

/** Port that is usual for a kind of link. */
export const usualPort = (kind: LinkKind, tls: boolean): number =>
  kind === 'mqtt' ? (tls ? 8883 : 1883) : 502;

/** Where a link leads, in a few characters: address, device file, or door. */
export function placeOf(link: Link): string {
  if (link.kind === 'modbus-serial') return `${link.path} ${link.baudRate}`;
  if (link.kind === 'http-push') return `/api/push/${link.id}`;
  return `${link.host}:${link.port}`;
}

/** Of a link that is there, what its form takes. */
export function inputOf(link: Link): LinkInput {
  const { id: _, health: __, hasPassword: ___, ...input } = link;
  return input;
}

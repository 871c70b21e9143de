/** The building behind Loka, reached over its control port: what is truly there, and what can be made to happen. */
const CONTROL = process.env.LOKA_BUILDING ?? 'http://127.0.0.1:15032';
export const PORTS = JSON.parse(process.env.LOKA_PORTS ?? '{}') as Record<string, number>;

interface State {
  loads: Record<string, Record<'L1' | 'L2' | 'L3', { amperes: number; watts: number; volts: number }>>;
  contacts: Record<string, boolean>;
}

async function put(path: string, body: object): Promise<void> {
  const response = await fetch(`${CONTROL}${path}`, { method: 'PUT', body: JSON.stringify(body) });
  if (!response.ok) throw new Error(`the building answered ${response.status}: ${await response.text()}`);
}

export const building = {
  state: async (): Promise<State> => (await fetch(`${CONTROL}/state`)).json() as Promise<State>,
  load: (name: string, mode: 'auto' | 'on' | 'off') => put(`/loads/${name}`, { mode }),
  fault: (device: string, fault: object) => put(`/devices/${device}/fault`, fault),
  weld: (relay: number, welded: boolean) => put(`/relays/${relay}/welded`, { welded }),
};

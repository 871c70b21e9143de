import { parseArgs } from 'node:util';
import { HOME } from './building/building.js';
import { PORT_NAMES, runBuilding, type PortName } from './run.js';

// node fieldsim/dist/main.js --seed 7 --since 2026-10-01T00:00:00Z --zone Europe/Lisbon --ports main-meter=15020,broker=15031,control=15032
const { values } = parseArgs({
  options: {
    seed: { type: 'string', default: '7' },
    since: { type: 'string' },
    zone: { type: 'string', default: HOME },
    ports: { type: 'string' },
  },
});
const since = values.since ? Date.parse(values.since) : Date.now() - 3 * 86_400_000;
const ports = values.ports
  ? Object.fromEntries(
      values.ports.split(',').map((pair) => [pair.split('=')[0], Number(pair.split('=')[1])]),
    )
  : Object.fromEntries(PORT_NAMES.map((name, i) => [name, 15020 + i]));
const wrong = Object.entries(ports).filter(
  ([name, port]) => !PORT_NAMES.includes(name as PortName) || !Number.isInteger(port),
);
if (Number.isNaN(since) || wrong.length > 0) {
  console.error(
    `fieldsim: --since takes an ISO instant, --ports pairs NAME=PORT of ${PORT_NAMES.join(', ')}`,
  );
  process.exit(2);
}

try {
  const running = await runBuilding({ seed: Number(values.seed), since, zone: values.zone, ports });
  console.log(
    `building ready: ${Object.entries(ports)
      .map((pair) => pair.join(' '))
      .join(', ')}`,
  );
  for (const signal of ['SIGINT', 'SIGTERM'] as const)
    process.on(signal, () => void running.stop().then(() => process.exit(0)));
} catch (error) {
  console.error(`the building could not start: ${(error as Error).message}`);
  process.exit(1);
}

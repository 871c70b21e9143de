import { parseArgs } from 'node:util';
import { runBuilding } from './run.js';

// node fieldsim/dist/main.js --seed 7 --since 2026-10-01T00:00:00Z --ports 15020,15021,15022,15023,15029
const { values } = parseArgs({
  options: { seed: { type: 'string', default: '7' }, since: { type: 'string' }, ports: { type: 'string' } },
});
const since = values.since ? Date.parse(values.since) : Date.now() - 3 * 86_400_000;
const ports = (values.ports ?? '15020,15021,15022,15023,15029').split(',').map(Number);
if (Number.isNaN(since) || ports.some((p) => !Number.isInteger(p))) {
  console.error('fieldsim: --since takes an ISO instant, --ports five numbers separated by commas');
  process.exit(2);
}

try {
  const running = await runBuilding({ seed: Number(values.seed), since, ports });
  console.log(
    `building ready: ${running.servers.map((s) => `${s.device.name} ${s.port}`).join(', ')}, control ${ports.at(-1)}`,
  );
  for (const signal of ['SIGINT', 'SIGTERM'] as const)
    process.on(signal, () => void running.stop().then(() => process.exit(0)));
} catch (error) {
  console.error(`the building could not start: ${(error as Error).message}`);
  process.exit(1);
}

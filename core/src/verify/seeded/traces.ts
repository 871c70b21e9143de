import { gauss, seededRandom } from './random.js';

/**
 * A made-up trace with what is known of it: loads that come and go (some with an inrush), ramps of a speed-controlled load,
 * single odd readings, noise. Written apart from the finder. Steps are at least six times the noise and six readings
 * apart from whatever else happens.
 */
export function seededTrace(seed: number) {
  const random = seededRandom(seed);
  const count = 90 + Math.floor(random() * 120);
  const noise = 0.2 + 20 * random() ** 2;
  const pace = random() < 0.3 ? 2000 : 1000;
  const resolution = random() < 0.3 ? noise * 0.8 : 0;
  const v = new Array<number>(count).fill(random() * 500);
  const t = v.map((_, i) => 1_700_000_000_000 + i * pace);
  const steps: { t: number; height: number }[] = [];
  let at = 10 + Math.floor(random() * 10);
  while (at < count - 12) {
    const what = random();
    if (what < 0.6) {
      const size = noise * (6.5 + 200 * random() ** 3);
      const height = random() < 0.5 ? size : -size;
      for (let i = at; i < count; i++) (v[i] as number) += height;
      if (height > 0 && random() < 0.4) (v[at] as number) += height * (1 + 4 * random());
      else if (random() < 0.3) (v[at] as number) -= height * random(); // it fell into a reading's own averaging
      steps.push({ t: t[at] as number, height });
    } else if (what < 0.8) {
      const length = 12 + Math.floor(random() * 20);
      const rise = noise * 40 * (random() - 0.5);
      for (let i = at; i < count; i++) (v[i] as number) += rise * Math.min(1, (i - at) / length);
      at += length;
    } else (v[at] as number) += noise * 300 * random();
    at += 9 + Math.floor(random() * 20);
  }
  const read = v.map((value) => {
    const noisy = value + noise * gauss(random);
    return resolution > 0 ? Math.round(noisy / resolution) * resolution : noisy;
  });
  return { trace: { t, v: read }, steps, noise };
}

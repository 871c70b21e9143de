import { trimPosition } from '@loka/core/calibration';
import { useEffect, useRef } from 'react';

/** Hz inside the tolerance, and at the end of the scale on either side. */
const [INSIDE, LOW, HIGH] = [660, 220, 1320];

/**
 * A tone that tells a deviation to somebody who looks at the trimmer: low where it reads too little, high where too much,
 * the steady middle one inside the tolerance. Null is silence.
 */
export function useTone(percent: number | null, tolerance: number): void {
  const audio = useRef<{ context: AudioContext; oscillator: OscillatorNode; gain: GainNode } | null>(null);
  useEffect(() => {
    if (percent === null) {
      audio.current?.gain.gain.setTargetAtTime(0, audio.current.context.currentTime, 0.05);
      return;
    }
    if (!audio.current) {
      const context = new AudioContext();
      const oscillator = context.createOscillator();
      const gain = context.createGain();
      gain.gain.value = 0;
      oscillator.connect(gain).connect(context.destination);
      oscillator.start();
      audio.current = { context, oscillator, gain };
    }
    const { context, oscillator, gain } = audio.current;
    const at = trimPosition(percent);
    const hertz =
      Math.abs(percent) <= tolerance
        ? INSIDE
        : at < 0
          ? INSIDE + at * (INSIDE - LOW)
          : INSIDE + at * (HIGH - INSIDE);
    oscillator.frequency.setTargetAtTime(hertz, context.currentTime, 0.03);
    gain.gain.setTargetAtTime(0.06, context.currentTime, 0.05);
  }, [percent, tolerance]);
  useEffect(
    () => () => {
      void audio.current?.context.close();
      audio.current = null;
    },
    [],
  );
}

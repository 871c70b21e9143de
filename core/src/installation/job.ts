/** How far the job at a circuit is, in the order in which it is done. */
export const JOB_STAGES = ['fitted', 'connected', 'verified', 'calibrated', 'logging'] as const;
export type JobStage = (typeof JOB_STAGES)[number];

export interface JobFacts {
  /** Points assigned to the circuit. */
  points: number;
  /** Of these, points with a usable reading that is not older than two intervals. */
  answering: number;
  /** Whether somebody has proved its wiring right, and nothing speaks against it since. */
  verified: boolean;
  /** Whether a calibration has been made on one of its points. */
  calibrated: boolean;
  /** Points with a stored sample within two intervals. */
  stored: number;
}

/** Which stages are done. A circuit with no point has everything before it. */
export function jobDone(facts: JobFacts): Record<JobStage, boolean> {
  return {
    fitted: facts.points > 0,
    connected: facts.points > 0 && facts.answering === facts.points,
    verified: facts.verified,
    calibrated: facts.calibrated,
    logging: facts.points > 0 && facts.stored === facts.points,
  };
}

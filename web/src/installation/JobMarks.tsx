import type { InstallationNode } from '@loka/contract/installation';
import { JOB_STAGES, type JobStage } from '@loka/core/installation';
import { Link } from 'react-router';
import { useReadings } from '../api/live.js';
import styles from './JobMarks.module.css';

/** Where each stage of the job is done. */
const PLACE: Record<JobStage, string> = {
  fitted: '/field',
  connected: '/field',
  verified: '/bench',
  calibrated: '/bench',
  logging: '/field',
};
/** Which part of that place. */
const PART: Partial<Record<JobStage, string>> = { verified: '&do=verify', calibrated: '&do=calibrate' };
const MISSING: Record<JobStage, string> = {
  fitted: 'not fitted: no point is assigned',
  connected: 'not connected: a point does not answer',
  verified: 'not verified: its wiring has not been checked',
  calibrated: 'not calibrated',
  logging: 'not logging',
};

/** How far the job at a circuit is; the first thing that is missing is a link to where it is done. */
export function JobMarks({ node, words = false }: { node: InstallationNode; words?: boolean }) {
  const now = useReadings([...node.powerPointIds, ...node.currentPointIds]);
  // What has no reading now is not logged either, whatever was true when the list came; none has come yet right after loading.
  const job = now.some((reading) => reading?.v === null)
    ? { ...node.job, connected: false, logging: false }
    : node.job;
  // What is wired wrongly comes before what is not done yet.
  const missing = node.wiringFault ? 'verified' : JOB_STAGES.find((stage) => !job[stage]);
  return (
    <span className={styles.marks} data-words={words}>
      {JOB_STAGES.map((stage) => {
        const done = job[stage];
        if (stage === missing) {
          const why =
            stage === 'verified' && node.wiringFault ? `wired wrongly: ${node.wiringFault}` : MISSING[stage];
          return (
            <Link
              key={stage}
              to={`${PLACE[stage]}?at=${node.id}${PART[stage] ?? ''}`}
              className={styles.missing}
              title={why}
              data-fault={stage === 'verified' && node.wiringFault !== null}
              aria-label={`${node.name}: ${why}`}
            >
              {words && why}
            </Link>
          );
        }
        return (
          <span
            key={stage}
            className={done ? styles.done : styles.open}
            title={done ? stage : `not ${stage}`}
          >
            {words ? (
              done ? (
                stage
              ) : (
                `not ${stage}`
              )
            ) : (
              <span className="spoken">{done ? stage : `not ${stage}`}</span>
            )}
          </span>
        );
      })}
    </span>
  );
}

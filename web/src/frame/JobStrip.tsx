import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { api } from '../api/client.js';
import { useJobs } from '../api/useApi.js';
import { useNotices } from '../shared/notices.js';

/** Long work under way, on every screen: how far it is, and how to stop it. */
export function JobStrip() {
  const { data = [] } = useJobs();
  const { attempt } = useNotices();
  return data
    .filter((job) => job.state === 'running')
    .map((job) => (
      <div
        key={job.id}
        style={{
          display: 'flex',
          alignItems: 'center',
          gap: 12,
          padding: '4px 20px',
          background: 'var(--sheet)',
        }}
        role="status"
      >
        <span>{job.title}</span>
        <LinearProgress
          variant="determinate"
          value={job.progress * 100}
          sx={{ flex: 1 }}
          aria-label={job.title}
        />
        <Button onClick={() => void attempt(() => api(`/jobs/${job.id}/cancel`, 'POST'))}>Cancel</Button>
      </div>
    ));
}

import type { ChildProcess } from 'node:child_process';

export interface StartedProcess {
  child: ChildProcess;
  output: string;
  stop(): Promise<void>;
  kill(): Promise<void>;
}
/** Ends what an earlier run has listed in a file and left running. */
export function endLeftovers(file: string): Promise<void>;
export function start(
  command: string,
  args: string[],
  options: {
    what: string;
    ready: RegExp;
    env?: Record<string, string>;
    cwd?: string;
    logFile: string;
    seconds?: number;
    onExit?: (code: number | null) => void;
    as?: { uid: number; gid: number } | null;
    port?: number;
  },
): Promise<StartedProcess>;

export interface RunningMariadb {
  port: number;
  password: string;
  env: Record<string, string>;
  stop(): Promise<void>;
  pause(): Promise<void>;
  resume(): Promise<void>;
  /** Ends it as a power cut would. */
  kill(): Promise<void>;
  /** It takes connections and does not answer, until it is thawed. */
  freeze(): Promise<void>;
  thaw(): void;
}
export function startMariadb(
  folder: string,
  options?: { fast?: boolean; databases?: string[]; keepUp?: boolean; connections?: number },
): Promise<RunningMariadb>;

export interface RunningMariadb {
  port: number;
  password: string;
  env: Record<string, string>;
  stop(): Promise<void>;
  pause(): Promise<void>;
  resume(): Promise<void>;
}
export function startMariadb(
  folder: string,
  options?: { fast?: boolean; databases?: string[] },
): Promise<RunningMariadb>;

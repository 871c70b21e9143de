export class LogFile {
  constructor(path: string);
  write(chunk: Uint8Array): void;
  end(): void;
}

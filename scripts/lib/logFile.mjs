import { closeSync, fstatSync, openSync, renameSync, writeSync } from 'node:fs';
import { performance } from 'node:perf_hooks';

/** Beyond this a log starts again; the one before is kept beside it. */
const LARGEST = 10 * 1024 ** 2;
/** A log that could not be written is tried again after this time, ms: the disk may have room again. */
const TRY_AGAIN = 10_000;

/**
 * A log of what a process says. One that cannot be written, because the disk is full or the folder may not be written, is
 * none until it can, and that is said: whoever is logged goes on.
 */
export class LogFile {
  constructor(path) {
    this.path = path;
    this.file = null;
    this.triedAt = -Infinity;
  }

  write(chunk) {
    try {
      if (this.file === null && !this.open()) return;
      if (this.size > LARGEST) this.rotate();
      writeSync(this.file, chunk);
      this.size += chunk.length;
    } catch (error) {
      console.error(`· ${this.path} cannot be written (${error.message}); going on without it`);
      this.end();
    }
  }

  open() {
    if (performance.now() - this.triedAt < TRY_AGAIN) return false;
    this.triedAt = performance.now();
    this.file = openSync(this.path, 'a', 0o600);
    this.size = fstatSync(this.file).size;
    return true;
  }

  rotate() {
    closeSync(this.file);
    this.file = null;
    this.triedAt = -Infinity;
    renameSync(this.path, `${this.path}.1`);
    this.open();
  }

  end() {
    if (this.file !== null) closeSync(this.file);
    this.file = null;
  }
}

import { spawn } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { bound } from './account.mjs';
import { LogFile } from './logFile.mjs';
import { say, Stop } from './say.mjs';

/** Processes that this run has started, newest last; {@link stopAll} ends them in reverse. */
const started = [];

/** Runs a command to its end with its output shown. @throws Stop when it fails */
export function run(command, args, { what, env, cwd, quiet = false, as = null } = {}) {
  const [program, all] = as ? bound(command, args, as) : [command, args];
  return new Promise((resolve, reject) => {
    const child = spawn(program, all, {
      cwd,
      env: { ...process.env, ...env },
      stdio: quiet ? ['ignore', 'pipe', 'pipe'] : ['ignore', 'inherit', 'inherit'],
    });
    let output = '';
    child.stdout?.on('data', (chunk) => (output += chunk));
    child.stderr?.on('data', (chunk) => (output += chunk));
    child.once('error', (error) => reject(new Stop(`${what ?? command}: ${error.message}`)));
    child.once('close', (code) =>
      code === 0
        ? resolve(output)
        : reject(
            new Stop(
              `${what ?? `${command} ${args.join(' ')}`} failed (exit ${code})${output ? `:\n${output.slice(-4000)}` : ''}`,
            ),
          ),
    );
  });
}

/**
 * Starts a process that goes on; resolves when a line of its output matches `ready`. Its output goes to `logFile`.
 * It ends when this process does. @param as account, or null for one's own; port: that it is to listen at
 * @throws Stop when it ends, or says nothing about the kind within `seconds`: a slow machine takes long, and what fails ends by itself
 */
export function start(
  command,
  args,
  { what, ready, env, cwd, logFile, seconds = 180, onExit, as = null, port },
) {
  const child = spawn(...bound(command, args, as, port), {
    cwd,
    env: { ...process.env, ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
    detached: true,
  });
  const entry = { child, what, stopping: false };
  started.push(entry);
  noteStarted();
  const log = new LogFile(logFile);
  return new Promise((resolve, reject) => {
    let output = '';
    const timer = setTimeout(
      () => reject(new Stop(`${what} did not become ready within ${seconds} s:\n${output.slice(-2000)}`)),
      seconds * 1000,
    );
    const take = (chunk) => {
      log.write(chunk);
      if (output === null) return;
      output += chunk;
      if (!ready.test(output)) return;
      clearTimeout(timer);
      const seen = output;
      output = null;
      resolve({ child, output: seen, stop: () => stop(entry), kill: () => kill(entry) });
    };
    child.stdout.on('data', take);
    child.stderr.on('data', take);
    child.once('error', (error) => reject(new Stop(`${what}: ${error.message}`)));
    child.once('close', (code) => {
      clearTimeout(timer);
      log.end();
      started.splice(started.indexOf(entry), 1);
      noteStarted();
      reject(new Stop(`${what} ended (exit ${code}):\n${(output ?? '').slice(-4000)}`));
      if (!entry.stopping) onExit?.(code);
    });
  });
}

/** Where it is written what was started, for a start after this one has been killed. */
let list = null;

/** Keeps a list of what is started in a file. */
export function listStarted(file) {
  list = file;
  noteStarted();
}

function noteStarted() {
  if (!list) return;
  const rows = started
    .filter(({ child }) => child.pid !== undefined)
    .map(({ child, what }) => ({ pid: child.pid, what, born: bornAt(child.pid) }));
  try {
    writeFileSync(list, JSON.stringify(rows));
  } catch (error) {
    console.error(`· ${list} cannot be written (${error.message})`);
  }
}

/** When a process began, in ticks since the machine did; with its number it names a process for good. Null for none. */
function bornAt(pid) {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    // The name, in parentheses, may hold anything.
    return Number(stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19]);
  } catch {
    return null; // there is no such process
  }
}

/** Ends what an earlier run has listed and left running. */
export async function endLeftovers(file) {
  if (!existsSync(file)) return;
  let rows;
  try {
    rows = JSON.parse(readFileSync(file, 'utf8'));
  } catch {
    return; // broken off while it was written; the processes end with their parent anyway
  }
  const isThere = ({ pid, born }) => born !== null && bornAt(pid) === born;
  for (const row of rows.reverse()) {
    if (!isThere(row)) continue;
    say(`ending ${row.what} (process ${row.pid}), which an earlier start has left running`);
    process.kill(row.pid, 'SIGTERM');
    for (let i = 0; i < 100 && isThere(row); i++) await new Promise((resolve) => setTimeout(resolve, 100));
    if (isThere(row)) process.kill(row.pid, 'SIGKILL');
  }
}

/** Asks a process to end, and makes it end when it does not within ten seconds. */
function stop(entry) {
  entry.stopping = true;
  if (entry.child.exitCode !== null || entry.child.signalCode !== null) return Promise.resolve();
  return new Promise((resolve) => {
    const timer = setTimeout(() => entry.child.kill('SIGKILL'), 10_000);
    entry.child.once('close', () => {
      clearTimeout(timer);
      resolve();
    });
    entry.child.kill('SIGTERM');
  });
}

/** Ends a process without asking it, as a power cut would. */
function kill(entry) {
  entry.stopping = true;
  if (entry.child.exitCode !== null || entry.child.signalCode !== null) return Promise.resolve();
  return new Promise((resolve) => {
    entry.child.once('close', () => resolve());
    entry.child.kill('SIGKILL');
  });
}

/** Ends everything that was started, the newest first. */
export async function stopAll() {
  for (const entry of [...started].reverse()) await stop(entry);
}

/** Ends everything on Ctrl-C or when told to end. */
export function stopOnSignals(then) {
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.once(signal, () => {
      void stopAll().then(() => then?.() ?? process.exit(signal === 'SIGINT' ? 0 : 1));
    });
}

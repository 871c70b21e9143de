import { spawnSync } from 'node:child_process';
import { chmodSync, chownSync, existsSync, lchownSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { findProgram, ROOT } from './places.mjs';
import { say } from './say.mjs';

const NAME = 'loka';

let found;

/**
 * As whom MariaDB, the building and the server run where root starts them: a user of their own with no rights but the
 * serial ports, so that a fault in them is not root's. Null where somebody else starts them, or where that user could
 * not read the project; the second is said.
 * @returns {{ uid: number, gid: number } | null}
 */
export function account() {
  if (found === undefined)
    found = process.getuid?.() === 0 && process.env.LOKA_AS_ROOT !== '1' ? make() : null;
  return found;
}

function make() {
  const setpriv = findProgram('setpriv');
  if (!setpriv) return refuse('setpriv (Debian package util-linux) is missing');
  if (idOf('-u') === null) {
    const useradd = findProgram('useradd');
    if (!useradd) return refuse('there is no useradd with which to make a user for it');
    const made = spawnSync(useradd, [
      '--system',
      '--no-create-home',
      '--home-dir=/nonexistent',
      '--shell=/usr/sbin/nologin',
      ...(groupExists('dialout') ? ['--groups=dialout'] : []),
      NAME,
    ]);
    // Of two starts at the same time one makes it, and the other one finds it made.
    if (made.status !== 0 && idOf('-u') === null)
      return refuse(`a user “${NAME}” cannot be made: ${String(made.stderr).trim()}`);
  }
  const own = { uid: idOf('-u'), gid: idOf('-g') };
  const readable = spawnSync(setpriv, [...privileges(own), 'test', '-r', `${ROOT}/package.json`]);
  return readable.status === 0 ? own : refuse(`the user “${NAME}” may not read ${ROOT}`);
}

/** Says once why everything runs as root. */
function refuse(why) {
  say(`MariaDB and the server run as root: ${why}`);
  return null;
}

const idOf = (which) => {
  const { status, stdout } = spawnSync('id', [which, NAME]);
  return status === 0 ? Number(stdout) : null;
};
const groupExists = (name) => spawnSync('getent', ['group', name]).status === 0;
const privileges = ({ uid, gid }) => [`--reuid=${uid}`, `--regid=${gid}`, '--init-groups', '--no-new-privs'];

/**
 * A command that ends when this process does, however that ends, and that runs as the account where one is given.
 * Without setpriv it is the command as it is: what a killed start leaves running is found by the next one.
 * @param port that it is to listen at; below 1024 it keeps the right to
 * @returns {[string, string[]]}
 */
export function bound(command, args, as, port = 0) {
  const setpriv = findProgram('setpriv');
  if (!setpriv) return [command, args];
  const low = as && port > 0 && port < 1024;
  const rights = low ? ['--inh-caps=+net_bind_service', '--ambient-caps=+net_bind_service'] : [];
  return [setpriv, ['--pdeathsig=TERM', ...(as ? privileges(as) : []), ...rights, '--', command, ...args]];
}

/**
 * Makes something the account's, a folder with everything in it. Only what that account has to write or to read: what root
 * writes lies in folders that are root's, where nobody can lay a link in its way.
 */
export function giveTo(as, path) {
  if (!as || !existsSync(path)) return;
  spawnSync('chown', ['-R', '-h', `${as.uid}:${as.gid}`, path]);
}

/** Makes a folder one that root alone writes in, and that the account may go through to what it was given there. */
export function passThrough(as, folder) {
  if (!as) return;
  chownSync(folder, 0, 0);
  chmodSync(folder, 0o711);
  // An earlier version gave it whole to the account.
  for (const entry of readdirSync(folder, { withFileTypes: true }))
    if (!entry.isDirectory()) lchownSync(join(folder, entry.name), 0, 0);
}

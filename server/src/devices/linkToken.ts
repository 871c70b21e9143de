import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';

const digest = (token: string): Buffer => createHash('sha256').update(token).digest();

/** A new token of a push link, and what is kept of it: only its digest, so that nobody can read it out again. */
export function newToken(): { token: string; secret: string } {
  const token = randomBytes(24).toString('base64url');
  return { token, secret: digest(token).toString('hex') };
}

/** Whether a token is the one of which `secret` is kept. */
export function isToken(token: string, secret: string | null): boolean {
  if (token === '' || secret === null || secret.length !== 64) return false;
  return timingSafeEqual(digest(token), Buffer.from(secret, 'hex'));
}

import { PICTURE_TYPES } from '@loka/contract/pictures';
import type { NextFunction, Request, Response } from 'express';

const LOCAL = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;
/** Where a connection comes from that this machine has made itself. */
const LOOPBACK = /^(127\.\d+\.\d+\.\d+|::1|::ffff:127\.\d+\.\d+\.\d+)$/;

const PICTURE_BODIES = [...PICTURE_TYPES, 'application/octet-stream'];

/**
 * Until there are accounts, only this machine may speak to it, by the address of the socket and whatever a request says of
 * itself; and only pages that this server itself gave out: a Host or Origin of elsewhere is refused (DNS rebinding,
 * cross-site requests), and what changes something comes as JSON (a picture as itself), which a foreign form cannot send.
 */
export function localOnly(request: Request, response: Response, next: NextFunction): void {
  const refuse = (detail: string) =>
    void response
      .status(403)
      .type('application/problem+json')
      .send(JSON.stringify({ type: 'urn:loka:problem:foreign', title: 'Forbidden', status: 403, detail }));
  // Devices post from elsewhere, and prove themselves by the token of their link; they never come from a page.
  if (
    request.method === 'POST' &&
    request.path.startsWith('/api/push/') &&
    request.headers.origin === undefined
  )
    return next();
  if (!LOOPBACK.test(request.socket.remoteAddress ?? ''))
    return refuse('From another machine only pushed readings are accepted.');
  const host = request.headers.host ?? '';
  const origin = request.headers.origin;
  if (!LOCAL.test(host))
    return refuse(`The host “${host}” is not this machine. Open Loka by the address that it printed.`);
  if (origin !== undefined && origin !== `http://${host}`)
    return refuse(`Requests from “${origin}” are not accepted.`);
  if (
    !['GET', 'HEAD', 'OPTIONS'].includes(request.method) &&
    request.headers['content-length'] !== '0' &&
    request.headers['content-length'] !== undefined &&
    !request.is(request.path === '/api/pictures' ? PICTURE_BODIES : 'application/json')
  )
    return refuse('Only JSON is accepted.');
  next();
}

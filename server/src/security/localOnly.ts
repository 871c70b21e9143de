import type { NextFunction, Request, Response } from 'express';

const LOCAL = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;

/**
 * Until there are accounts, only pages that this server itself gave out may speak to it: a Host or Origin of
 * elsewhere is refused (DNS rebinding, cross-site requests), and what changes something comes as JSON, which a
 * foreign form cannot send.
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
  const host = request.headers.host ?? '';
  const origin = request.headers.origin;
  if (!LOCAL.test(host))
    return refuse(`The host “${host}” is not this machine. Open Loka by the address that it printed.`);
  if (origin !== undefined && origin !== `http://${host}`)
    return refuse(`Requests from “${origin}” are not taken.`);
  if (
    !['GET', 'HEAD', 'OPTIONS'].includes(request.method) &&
    request.headers['content-length'] !== '0' &&
    request.headers['content-length'] !== undefined &&
    !request.is('application/json')
  )
    return refuse('Only JSON is taken.');
  next();
}

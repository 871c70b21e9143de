import type { Response } from 'express';

/** Names a download; letters of any script stay, what could end a header or a path does not. */
export function nameDownload(response: Response, name: string, type: string): void {
  const plain = name.replace(/[^\p{L}\p{N} .,_-]/gu, '').trim() || 'file';
  response.setHeader('content-type', type);
  response.setHeader(
    'content-disposition',
    `attachment; filename="loka${plain.slice(plain.lastIndexOf('.'))}"; filename*=UTF-8''${encodeURIComponent(plain)}`,
  );
}

/** Sends a text as a file to be saved. */
export function sendFile(response: Response, name: string, type: string, text: string): void {
  nameDownload(response, name, type);
  response.send(text);
}

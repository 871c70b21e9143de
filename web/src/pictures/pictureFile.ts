import {
  LARGEST_PICTURE,
  LARGEST_SVG,
  PICTURE_LIMITS,
  PICTURE_TYPES,
  type Picture,
} from '@loka/contract/pictures';
import { failureOf } from '../api/client.js';

/** Where the content of a picture is. */
export const pictureUrl = ({ id, hash }: Pick<Picture, 'id' | 'hash'>): string =>
  `/api/pictures/${id}/${hash}`;

/** What the file chooser offers. */
export const ACCEPTED = [...PICTURE_TYPES, '.png', '.jpg', '.jpeg', '.svg'].join(',');

/** Why a file need not be sent at all; null when it may be. */
export function faultOf({ name, size, type }: Pick<File, 'name' | 'size' | 'type'>): string | null {
  const most = type === 'image/svg+xml' || /\.svg$/i.test(name) ? LARGEST_SVG : LARGEST_PICTURE;
  if (size === 0) return `“${name}” is empty. Accepted: ${PICTURE_LIMITS}`;
  return size > most ? `“${name}” has ${(size / 1e6).toFixed(1)} MB. Accepted: ${PICTURE_LIMITS}` : null;
}

/** The name of a picture by its file: without its ending. */
export const nameOf = (file: string): string => file.replace(/\.[a-z]+$/i, '').slice(0, 80) || 'Picture';

/**
 * Sends a file, telling the share of it that is sent. (With fetch nobody knows how far it is.)
 * @throws ApiError, or AbortError when it was called off
 */
export function sendPicture(
  file: File,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<Picture> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('POST', `/api/pictures?name=${encodeURIComponent(nameOf(file.name))}`);
    request.setRequestHeader('content-type', 'application/octet-stream');
    request.responseType = 'json';
    request.upload.onprogress = ({ loaded, total }) => onProgress(total > 0 ? loaded / total : 0);
    request.onload = () =>
      request.status === 201
        ? resolve(request.response as Picture)
        : reject(failureOf(request.status, request.statusText, request.response));
    request.onerror = () => reject(failureOf(0, '', null));
    request.onabort = () => reject(new DOMException('cancelled', 'AbortError'));
    signal.addEventListener('abort', () => request.abort());
    request.send(file);
  });
}

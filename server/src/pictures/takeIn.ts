import {
  LARGEST_PICTURE,
  LARGEST_SVG,
  MOST_PIXELS,
  PICTURE_LIMITS,
  type PictureType,
} from '@loka/contract/pictures';
import sharp, { type OutputInfo, type Sharp } from 'sharp';
import { invalidField, type Problem } from '../problem/errors.js';
import { harmlessSvg, SvgFault } from './svg.js';

/** A picture as it is kept. */
export interface TakenIn {
  type: PictureType;
  width: number;
  height: number;
  content: Buffer;
}

/** Pixels each way of what is kept: a wall of the finest screens shows no more. */
const WIDEST = 3840;
const PNG = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
const JPEG = Buffer.from([0xff, 0xd8, 0xff]);

const refused = (why: string): Problem => invalidField('file', `${why} Accepted: ${PICTURE_LIMITS}`);

/**
 * Looks at an uploaded file, and gives what is kept of it: pixels re-encoded (upright, without what a camera writes
 * beside them, such as where it was), drawings without all that acts.
 * @throws Problem `invalid` for what is no picture, or too large a one
 */
export async function takeIn(file: Buffer): Promise<TakenIn> {
  if (file.length === 0) throw refused('The file is empty.');
  if (file.length > LARGEST_PICTURE) throw refused(tooLarge(file.length));
  if (file.subarray(0, 8).equals(PNG)) return taken(file, 'image/png');
  if (file.subarray(0, 3).equals(JPEG)) return taken(file, 'image/jpeg');
  if (
    /^\s*</.test(
      file
        .subarray(0, 200)
        .toString('utf8')
        .replace(/^\uFEFF/, ''),
    )
  )
    return drawing(file);
  throw refused('This file is neither a PNG, a JPEG nor an SVG, whatever it is called.');
}

/** Words for a file of too many bytes. */
export const tooLarge = (bytes: number): string => `The file has ${(bytes / 1e6).toFixed(1)} MB.`;
export const tooLargeProblem = (bytes: number): Problem => refused(tooLarge(bytes));

async function taken(file: Buffer, type: 'image/png' | 'image/jpeg'): Promise<TakenIn> {
  const upright = await pixels(file);
  const kept = type === 'image/png' ? upright.clone().png() : upright.clone().jpeg({ quality: 88 });
  const { data, info } = await encoded(kept);
  const { width, height } = info;
  if (data.length <= LARGEST_PICTURE) return { type, width, height, content: data };
  // A photograph that was saved as PNG.
  const { data: smaller } = await encoded(upright.clone().webp({ quality: 88 }));
  return { type: 'image/webp', width, height, content: smaller };
}

/** Its pixels, upright and no more than are shown. @throws Problem */
async function pixels(file: Buffer): Promise<Sharp> {
  const read = sharp(file, { limitInputPixels: false, failOn: 'truncated' });
  let size: { width: number; height: number };
  try {
    size = await read.metadata();
  } catch {
    throw refused('It begins like a picture, but the rest is not one.');
  }
  if (size.width * size.height > MOST_PIXELS)
    throw refused(
      `It has ${size.width} × ${size.height} pixels, ${Math.round((size.width * size.height) / 1e6)} million.`,
    );
  return read.autoOrient().resize({ width: WIDEST, height: WIDEST, fit: 'inside', withoutEnlargement: true });
}

async function encoded(picture: Sharp): Promise<{ data: Buffer; info: OutputInfo }> {
  try {
    return await picture.toBuffer({ resolveWithObject: true });
  } catch (error) {
    throw refused(
      `It begins like a picture, but it is damaged (${(error as Error).message.split('\n')[0]}).`,
    );
  }
}

async function drawing(file: Buffer): Promise<TakenIn> {
  if (file.length > LARGEST_SVG) throw refused(tooLarge(file.length));
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(file);
  } catch {
    throw refused('It is not written in UTF-8.');
  }
  try {
    const { text: content, width, height, embedded } = harmlessSvg(text);
    for (const picture of embedded) await encoded(await pixels(picture));
    return { type: 'image/svg+xml', width, height, content: Buffer.from(content) };
  } catch (error) {
    if (error instanceof SvgFault) throw refused(`Line ${error.line}: ${error.message}`);
    throw error;
  }
}

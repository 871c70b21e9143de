import { IsString, Length } from 'class-validator';

/** As which files pictures are taken. */
export const PICTURE_TYPES = ['image/png', 'image/jpeg', 'image/svg+xml'] as const;
export type PictureType = (typeof PICTURE_TYPES)[number] | 'image/webp';

/** Bytes of the largest file that is taken, and of the largest drawing among them. */
export const LARGEST_PICTURE = 10_000_000;
export const LARGEST_SVG = 2_000_000;
/** Pixels of the largest picture: a small file can unfold into more than a browser holds. */
export const MOST_PIXELS = 50_000_000;

/** The limits in words, as they are said before and after a file is chosen. */
export const PICTURE_LIMITS = `PNG or JPEG up to ${LARGEST_PICTURE / 1e6} MB and ${MOST_PIXELS / 1e6} million pixels, or SVG up to ${LARGEST_SVG / 1e6} MB.`;

/** How it is called; a file is sent as the body itself. */
export class PictureName {
  @IsString()
  @Length(1, 80, { message: 'A picture has a name of 1 to 80 letters.' })
  name!: string;
}

/** An uploaded picture, without its content. */
export interface Picture {
  id: number;
  name: string;
  type: PictureType;
  /** In pixels, or in a drawing’s own units. */
  width: number;
  height: number;
  /** Bytes as it is kept. */
  bytes: number;
  /** Tells two contents apart (SHA-256); part of the address of its content. */
  hash: string;
  addedAt: number;
  who: string;
}

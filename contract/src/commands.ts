import { IsNumber, IsOptional } from 'class-validator';

/** A value to be written to a device, once. */
export class CommandInput {
  /** In the base unit of its quantity; left out by a command that always sends the same. */
  @IsOptional()
  @IsNumber({ allowNaN: false, allowInfinity: false }, { message: 'Type a number.' })
  value?: number | null;
}

/** What came of a command: it was sent, and taken by the device or its broker. */
export interface CommandDone {
  /** In the base unit of its quantity. */
  sent: number;
  /** What the device gives back where it was written; null where nothing can be read there. */
  back: number | null;
  /** Why nothing came back; null where something did. */
  unread: string | null;
}

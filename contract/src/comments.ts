import { IsInt, IsString, Length, Min } from 'class-validator';
import { Versioned } from './versioned.js';

/** What a person has to say of an instant at a place. */
export class CommentInput extends Versioned {
  @IsInt({ message: 'Choose the place.' })
  nodeId!: number;

  @IsInt({ message: 'The instant is given in milliseconds.' })
  @Min(0)
  t!: number;

  @IsString()
  @Length(1, 400, { message: 'Write 1 to 400 letters.' })
  text!: string;
}

export interface Comment extends CommentInput {
  id: number;
  version: number;
  who: string;
  writtenAt: number;
}

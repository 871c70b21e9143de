import { Transform, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsInt,
  IsOptional,
  Max,
  Min,
  registerDecorator,
  type ValidationArguments,
} from 'class-validator';

/** The end of a period lies after its start. */
const After =
  (start: string): PropertyDecorator =>
  (target, propertyName) =>
    registerDecorator({
      name: 'after',
      target: target.constructor,
      propertyName: propertyName as string,
      options: { message: 'The period ends before it starts. Choose an end after the start.' },
      validator: {
        validate: (value: unknown, { object }: ValidationArguments) =>
          Number(value) > Number((object as Record<string, unknown>)[start]),
      },
    });

/** A period in UTC milliseconds; `from` belongs to it, `to` does not. */
export class PeriodQuery {
  @Type(() => Number)
  @IsInt({ message: 'The start is an instant in milliseconds.' })
  @Min(0)
  from!: number;

  @Type(() => Number)
  @After('from')
  @IsInt({ message: 'The end is an instant in milliseconds.' })
  to!: number;
}

/** Points over a period. */
export class PointsQuery extends PeriodQuery {
  @Transform(({ value }: { value: string | string[] }) => String(value).split(',').map(Number))
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(60)
  @IsInt({ each: true, message: 'Points are given by their numbers.' })
  points!: number[];
}

export class SeriesQuery extends PointsQuery {
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(50)
  @Max(4000)
  width?: number;

  /** Length of the blocks in minutes, where they must not follow the width. */
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(1440)
  block?: number;
}

export class ExportQuery extends PeriodQuery {
  @Type(() => Number)
  @IsInt({ message: 'Choose a point.' })
  point!: number;
}

import {
  ACCURACY_CLASSES,
  HALL_SIGNALS,
  TRANSDUCERS,
  type AccuracyClass,
  type HallSignal,
  type Sensing,
  type Transducer,
} from '@loka/core/sensing';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsPositive,
  Max,
  Min,
} from 'class-validator';

/** What sits before the meter at some points of a device, from an instant on. */
export class SensingInput implements Sensing {
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose at least one value.' })
  @ArrayMaxSize(40)
  @IsInt({ each: true })
  pointIds!: number[];

  /** UTC ms */
  @IsInt({ message: 'Choose from when it applies.' })
  @Min(0)
  validFrom!: number;

  @IsNumber({}, { message: 'The ratio is a number; 1 where the device knows it.' })
  @IsPositive({ message: 'The ratio is above 0; 1 where the device knows it.' })
  ratio!: number;

  @IsInt({ message: 'Turns are a whole number.' })
  @Min(1, { message: 'The conductor goes through at least once.' })
  @Max(100, { message: 'At most 100 turns.' })
  turns!: number;

  @IsBoolean()
  reversed!: boolean;

  @IsOptional()
  @IsIn(TRANSDUCERS)
  kind!: Transducer | null;

  @IsOptional()
  @IsNumber({}, { message: 'The rated current is a number in amperes.' })
  @IsPositive({ message: 'The rated current is above 0 A.' })
  ratedCurrent!: number | null;

  @IsOptional()
  @IsIn(ACCURACY_CLASSES, { message: 'Choose a class, or none.' })
  accuracyClass!: AccuracyClass | null;

  @IsOptional()
  @IsIn(HALL_SIGNALS, { message: 'Choose the output signal of the Hall sensor.' })
  signal!: HallSignal | null;

  @IsOptional()
  @IsNumber({}, { message: 'The burden is a number in ohms.' })
  @IsPositive({ message: 'The burden is above 0 Ω; leave it out where the device gives amperes.' })
  burden!: number | null;

  @IsOptional()
  @IsNumber({}, { message: 'The nominal voltage is a number in volts.' })
  @IsPositive({ message: 'The nominal voltage is above 0 V.' })
  nominalVoltage!: number | null;
}

/** A version of what sits before the meter at a point. */
export interface SensingVersion extends Sensing {
  id: number;
  pointId: number;
  validFrom: number;
  who: string;
  at: number;
}

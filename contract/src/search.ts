import { IsInt, IsIP, IsOptional, IsString, Length, Max, Min, ValidateIf } from 'class-validator';

/** Where to look for devices that speak Modbus. */
export class SearchInput {
  @IsString()
  @Length(1, 300, { message: 'Type addresses, for example 192.168.1.0/24.' })
  addresses!: string;

  @IsString()
  @Length(1, 100, { message: 'Type ports, for example 502.' })
  ports!: string;

  @IsString()
  @Length(1, 100, { message: 'Type unit ids, for example 1-10.' })
  units!: string;

  @IsOptional()
  @IsInt()
  @Min(50)
  @Max(5000)
  timeoutMs: number = 300;
}

/** A unit that answered, with what was recognised of it. */
export interface FoundDevice {
  host: string;
  port: number;
  unit: number;
  /** Whether the device answers at every unit id, as those do that have an address of their own. */
  anyUnit: boolean;
  /** What it says of itself (function 43/14, or the common model). */
  identification: string | null;
  /** SunSpec meter model that it speaks. */
  sunspec: { model: number; words: string } | null;
  /** Known maps that read plausibly, best first. */
  maps: { id: number; name: string; plausibility: number }[];
  /** The device that reads it already. */
  deviceId: number | null;
}

export interface Search {
  id: string;
  state: 'running' | 'done' | 'cancelled' | 'failed';
  /** Addresses and ports tried, of how many. */
  tried: number;
  of: number;
  found: FoundDevice[];
  /** Where somebody takes connections, and no unit answered at the ids that were asked for. */
  mute: { host: string; port: number }[];
  message: string | null;
}

/** One unit that is asked what it is: on a link that is there, or at an address. */
export class RecogniseInput {
  @IsOptional()
  @IsInt()
  linkId?: number;

  @ValidateIf((input: RecogniseInput) => input.linkId === undefined)
  @IsString()
  @Length(1, 253, { message: 'Type an address, for example 192.168.1.40.' })
  host: string = '';

  @ValidateIf((input: RecogniseInput) => input.linkId === undefined)
  @IsInt()
  @Min(1)
  @Max(65535)
  port: number = 502;

  @IsInt()
  @Min(0)
  @Max(255)
  unit!: number;
}

/** One of the found ones, to be added. */
export class FoundDeviceInput {
  @IsString()
  @Length(1, 80)
  name!: string;

  /** What was found has an address; a name could be another machine's by now. */
  @IsIP(undefined, { message: 'An address such as 192.168.1.40.' })
  host!: string;

  @IsInt()
  @Min(1)
  @Max(65535)
  port!: number;

  @IsInt()
  @Min(0)
  @Max(255)
  unit!: number;

  /** Missing: by what the device tells of itself (SunSpec). */
  @IsOptional()
  @IsInt()
  mapId?: number | null;
}

/** A device that speaks SunSpec, on a link that is there: it needs no map. */
export class SunspecInput {
  @IsInt()
  linkId!: number;

  @IsInt()
  @Min(0)
  @Max(255)
  unit!: number;

  @IsString()
  @Length(1, 80)
  name!: string;
}

import { Transform } from 'class-transformer';
import { ArrayMaxSize, IsArray, IsInt, IsOptional, IsUrl, Max, Min } from 'class-validator';

/** Lines of a record under headings; one that ends in "#" stands over numbers. */
export interface RecordTable {
  head: string[];
  rows: string[][];
}

/** Errors of a calibration against load, percent, for a drawing. */
export interface RecordErrors {
  unit: string;
  /** A; null where it is not known. */
  rated: number | null;
  /** Errors and their uncertainty in percent of the load. */
  points: { load: number; asFound: number | null; asLeft: number | null; uncertainty: number | null }[];
}

/** A part of a record, in words: the screen and the printed page show the same. */
export interface RecordSection {
  title: string;
  /** Sentences. */
  says: string[];
  facts: [name: string, value: string][];
  tables: RecordTable[];
  errors: RecordErrors | null;
}

/** What is known of a circuit: what is fitted, how it was found and left, how good its readings are. */
export interface CircuitRecord {
  nodeId: number;
  title: string;
  /** What feeds it. */
  place: string;
  /** What is not done, or not right; empty where nothing is missing. */
  open: string[];
  sections: RecordSection[];
}

export interface SiteRecord {
  site: string;
  /** In words of the site's clock. */
  made: string;
  who: string;
  sections: RecordSection[];
  circuits: CircuitRecord[];
}

/** Labels to stick on devices. */
export class LabelsQuery {
  /** Where phones find Loka: what the labels lead to. */
  @IsUrl(
    { require_tld: false, require_protocol: true, protocols: ['http', 'https'] },
    { message: 'Write the address as http://192.168.1.20:8420.' },
  )
  address!: string;

  /** Of these places; left out: of all that are measured. */
  @IsOptional()
  @Transform(({ value }: { value: unknown }) => String(value).split(',').map(Number))
  @IsArray()
  @ArrayMaxSize(1000)
  @IsInt({ each: true })
  nodes?: number[];

  /** Labels of the first sheet that are gone already. */
  @IsOptional()
  @Transform(({ value }: { value: unknown }) => Number(value))
  @IsInt()
  @Min(0)
  @Max(20)
  skip?: number;
}

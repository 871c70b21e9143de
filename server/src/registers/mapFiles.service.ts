import { MOST_POINTS, RegisterMapInput, type RegisterMapFile } from '@loka/contract/registers';
import { MapFileError, pointsOfTable, tableOfPoints, type LineFault } from '@loka/core/registers';
import { Injectable } from '@nestjs/common';
import { plainToInstance } from 'class-transformer';
import { validateSync, type ValidationError } from 'class-validator';
import { parse } from 'csv-parse/sync';
import { stringify } from 'csv-stringify/sync';
import { DeviceBook } from '../book/deviceBook.js';
import { BODY_LIMITS, beyondReason, hasMoreParts } from '../problem/bodies.js';
import { invalid, notFound } from '../problem/errors.js';
import type { RegisterMapEntity } from '../book/registerMap.entity.js';
import { RegistersService } from './registers.service.js';

const FORMAT = 'loka-register-map';
/** A value with a hundred named states has about half of it. */
const LONGEST_LINE = 10_000;
/** Faults that are listed; who has more has sent another file than meant. */
const MOST_FAULTS = 100;

/** Register maps as files, out and in: CSV for spreadsheets, JSON with name and description. */
@Injectable()
export class MapFilesService {
  constructor(
    private readonly book: DeviceBook,
    private readonly registers: RegistersService,
  ) {}

  async csv(id: number): Promise<{ name: string; text: string }> {
    const { name, points, messages } = await this.map(id);
    if (messages.length > 0) throw invalid('A map of messages leaves as JSON; the table is for registers.');
    return { name, text: stringify(tableOfPoints(points), { record_delimiter: '\r\n' }) };
  }

  async json(id: number): Promise<{ name: string; text: string }> {
    const { name, description, points, messages, availability } = await this.map(id);
    const file = { format: FORMAT, version: 1, name, description, points, messages, availability };
    return {
      name,
      text: `${JSON.stringify(file, null, 2)}\n`,
    };
  }

  importFile({ format, name, text }: RegisterMapFile): Promise<RegisterMapEntity> {
    return this.registers.create(format === 'csv' ? fromCsv(name, text) : fromJson(text));
  }

  private async map(id: number): Promise<RegisterMapEntity> {
    const map = await this.book.maps.findOneBy({ id });
    if (!map) throw notFound('register map', id);
    return map;
  }
}

function fromCsv(name: string, text: string): RegisterMapInput {
  if (name.trim() === '') throw refuse([{ line: 1, message: 'Give the map a name.' }]);
  let table: string[][];
  try {
    // One line more than a map may have: enough to say that there are too many.
    table = parse(text, {
      bom: true,
      relax_column_count: true,
      skip_empty_lines: true,
      max_record_size: LONGEST_LINE,
      to: MOST_POINTS + 2,
    });
  } catch (error) {
    const { lines = 1, code, message } = error as { lines?: number; code?: string; message: string };
    throw refuse([
      {
        line: lines,
        message: code === 'CSV_MAX_RECORD_SIZE' ? `A line has at most ${LONGEST_LINE} characters.` : message,
      },
    ]);
  }
  if (table.length > MOST_POINTS + 1)
    throw refuse([{ line: MOST_POINTS + 2, message: `A map has at most ${MOST_POINTS} values.` }]);
  try {
    return {
      name: name.trim(),
      description: '',
      points: pointsOfTable(table) as RegisterMapInput['points'],
      messages: [],
    };
  } catch (error) {
    if (error instanceof MapFileError) throw refuse(error.faults);
    throw error;
  }
}

function fromJson(text: string): RegisterMapInput {
  if (hasMoreParts(text, BODY_LIMITS.most))
    throw refuse([{ line: 1, message: `The file was refused: it has more than ${BODY_LIMITS.most} parts.` }]);
  let file: unknown;
  try {
    file = JSON.parse(text);
  } catch (error) {
    throw refuse([{ line: 1, message: `This is not JSON: ${(error as Error).message}` }]);
  }
  const why = beyondReason(file, BODY_LIMITS);
  if (why) throw refuse([{ line: 1, message: `The file was refused: ${why}.` }]);
  const { format, version, ...rest } = (file ?? {}) as Record<string, unknown>;
  if (format !== FORMAT || version !== 1)
    throw refuse([
      { line: 1, message: `“format” should be “${FORMAT}” and “version” 1; then it is a register map.` },
    ]);
  const input = plainToInstance(RegisterMapInput, rest);
  const faults = flatten(validateSync(input, { whitelist: true, forbidNonWhitelisted: true }), '');
  if (faults.length > 0) throw refuse(faults.map((message) => ({ line: 1, message })));
  return input;
}

const flatten = (errors: ValidationError[], path: string): string[] =>
  errors.flatMap((e) => [
    ...Object.values(e.constraints ?? {})
      .slice(-1)
      .map((message) => `${path}${e.property}: ${message}`),
    ...flatten(e.children ?? [], `${path}${e.property}.`),
  ]);

const refuse = (faults: LineFault[]) =>
  invalid(
    faults.length === 1
      ? `Line ${faults[0]?.line}: ${faults[0]?.message}`
      : `${faults.length} things are wrong with the file${faults.length > MOST_FAULTS ? `, of which the first ${MOST_FAULTS} are listed` : ''}; nothing was taken from it.`,
    faults.slice(0, MOST_FAULTS).map(({ line, message }) => ({ field: `line ${line}`, message })),
  );

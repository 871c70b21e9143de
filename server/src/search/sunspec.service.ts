import type { SunspecInput } from '@loka/contract/search';
import { Injectable } from '@nestjs/common';
import { isDeepStrictEqual } from 'node:util';
import { AcquisitionService } from '../acquisition/acquisition.service.js';
import { LinkFault } from '../acquisition/runner.js';
import { DeviceBook } from '../book/deviceBook.js';
import { DevicesService } from '../devices/devices.service.js';
import type { LinkEntity } from '../book/link.entity.js';
import { Problem } from '../problem/errors.js';
import { RegistersService } from '../registers/registers.service.js';
import { walkSunspec, type SunspecDevice } from './sunspecWalk.js';

/** Devices that tell by themselves what they are: no map has to be chosen or made for them. */
@Injectable()
export class SunspecService {
  constructor(
    private readonly acquisition: AcquisitionService,
    private readonly book: DeviceBook,
    private readonly devices: DevicesService,
    private readonly registers: RegistersService,
  ) {}

  /** Walks the models of a unit and makes a device of its meter. @throws Problem */
  async add({ linkId, unit, name }: SunspecInput): Promise<{ id: number; mapId: number; words: string }> {
    const link = await this.acquisition.modbusLink(linkId);
    const found = await this.walk(link, unit);
    if (!found)
      throw new Problem(
        'no-sunspec',
        `Unit ${unit} does not speak SunSpec: its marker stands neither at 40000, nor at 50000, nor at 0.`,
      );
    if (!found.meter)
      throw new Problem(
        'no-meter',
        `Unit ${unit} (${found.maker} ${found.model}) speaks SunSpec, but has no meter model (201–204, 211–214).`,
      );
    const mapId = await this.mapFor(found);
    const { id } = await this.devices.createDevice({ linkId, unit, mapId, name, topic: '' });
    return { id, mapId, words: `${found.maker} ${found.model}, ${found.meter.words}` };
  }

  private walk(link: LinkEntity, unit: number): Promise<SunspecDevice | null> {
    return walkSunspec(
      (span) => this.acquisition.readOnce(link, unit, span),
      (error) => error instanceof LinkFault && error.fault.exception !== null,
    );
  }

  /** The map of what was found; the same as before for a second device of the same kind. */
  private async mapFor({ maker, model, version, meter }: SunspecDevice): Promise<number> {
    const points = meter?.points ?? [];
    const same = (await this.book.maps.find()).find((map) => isDeepStrictEqual(map.points, points));
    if (same) return same.id;
    const name = `${`${maker} ${model}`.trim() || 'Meter'}, SunSpec model ${meter?.model}`.slice(0, 80);
    const description = `Found by walking the models of the device: ${meter?.words}, version ${version || 'unknown'}.`;
    return (await this.registers.create({ name, description, points: points as never, messages: [] })).id;
  }
}

import type { CommandDone } from '@loka/contract/commands';
import { isMessage, isRegister, stepOf } from '@loka/core/definitions';
import { isWritable, isWrittenByHand } from '@loka/core/points';
import { Injectable } from '@nestjs/common';
import { AcquisitionService } from '../acquisition/acquisition.service.js';
import { SettingWire, type SettingPoint } from '../acquisition/settingWire.service.js';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { SwitchBook } from '../book/switchBook.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import { faultOf } from '../settings/settingValue.js';

/** Values that somebody writes to a device, once: to clear a peak, to keep so much in a battery. */
@Injectable()
export class CommandsService {
  constructor(
    private readonly book: DeviceBook,
    private readonly switches: SwitchBook,
    private readonly acquisition: AcquisitionService,
    private readonly wire: SettingWire,
  ) {}

  /**
   * Sends what a command always sends, or the value that was typed, and says what the device then gives back.
   * @param value base unit; @throws Problem, LinkFault
   */
  async send(id: number, value: number | null): Promise<CommandDone> {
    const point = this.book.point(id);
    if (!point) throw notFound('point', id);
    if (!isCommand(point)) throw invalidField('value', `“${point.definition.name}” is not written to.`);
    const { definition } = point;
    // What a cut-off keeps open must not be closed past it.
    const by = this.switches.all().find((s) => s.commandPointId === id);
    if (by)
      throw new Problem('has-switch', `“${definition.name}” operates the switch “${by.name}”: use that.`);
    const fixed = definition.send;
    if (fixed === undefined && !isWrittenByHand(definition))
      throw invalidField(
        'value',
        `“${definition.name}” is a contact: add a switch for it, and operate that.`,
      );
    const sent = fixed ?? value;
    if (sent === null) throw invalidField('value', 'Type a number.');
    if (fixed !== undefined && value !== null && value !== fixed)
      throw invalidField('value', `“${definition.name}” always sends ${fixed}.`);
    const fault = faultOf(point, sent);
    if (fault) throw invalidField('value', fault);
    return { sent, ...(await this.writtenBack(point, sent)) };
  }

  private async writtenBack(point: SettingPoint, sent: number): Promise<Omit<CommandDone, 'sent'>> {
    if (isMessage(point.definition)) {
      await this.acquisition.write(point, sent);
      return { back: null, unread: 'The broker has it; a device answers on topics of its own.' };
    }
    await this.acquisition.write(point, sent);
    this.acquisition.runnerOf(point)?.hurry(point.id);
    try {
      return { back: await this.wire.readBack(point, sent, stepOf(point.definition)), unread: null };
    } catch (error) {
      // It is done. That it cannot be read there is usual of a register that is only written.
      if (error instanceof Problem) return { back: null, unread: error.detail };
      throw error;
    }
  }
}

const isCommand = (point: KnownPoint): point is SettingPoint =>
  (isRegister(point.definition) || isMessage(point.definition)) && isWritable(point.definition);

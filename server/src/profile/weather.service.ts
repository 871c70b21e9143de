import type { PlaceWeather } from '@loka/contract/profile';
import { profileCalendar, weatherDays, weatherFit, type PowerSpans } from '@loka/core/profile';
import { Injectable } from '@nestjs/common';
import { DeviceBook } from '../book/deviceBook.js';
import { Problem } from '../problem/errors.js';
import { SiteService } from '../site/site.service.js';
import { CountedPower } from './countedPower.js';
import { PlacePower } from './placePower.js';

/** How what places take hangs on the temperature outside. */
@Injectable()
export class WeatherService {
  constructor(
    private readonly power: PlacePower,
    private readonly counted: CountedPower,
    private readonly book: DeviceBook,
    private readonly sites: SiteService,
  ) {}

  /** @throws Problem where the place is not there, nothing measures it or the temperature, or the period lies in the future or is too long */
  async of(nodeId: number, from: number, to: number): Promise<PlaceWeather> {
    const { timeZone, closedDays, holidays, outdoorPointId } = await this.sites.require();
    if (outdoorPointId === null)
      throw new Problem('nothing-measured', 'Nothing measures the temperature outside.');
    const point = this.book.point(outdoorPointId);
    if (point?.definition.quantity !== 'temperature')
      throw new Problem(
        'nothing-measured',
        'The thermometer outside was removed, or no longer measures a temperature. Choose another one in Settings.',
      );
    const spans = await this.powerOf(nodeId, from, to);
    const outside = (await this.power.spansOf([[outdoorPointId]], from, to))[0] as PowerSpans;
    const calendar = profileCalendar(timeZone, spans, { closedDays, holidays });
    const days = weatherDays(spans, outside, calendar);
    const end = spans.start + spans.length * spans.step;
    return {
      nodeId,
      from: spans.start,
      to: end,
      pointId: outdoorPointId,
      wholeDays: calendar.days.filter((day) => day.start >= spans.start && day.end <= end).length,
      days,
      fit: weatherFit(days),
    };
  }

  private async powerOf(nodeId: number, from: number, to: number): Promise<PowerSpans> {
    return !this.power.isMeasured(nodeId) && this.counted.isCounted(nodeId)
      ? this.counted.spans(nodeId, from, to)
      : ((await this.power.spans([nodeId], from, to))[0] as PowerSpans);
  }
}

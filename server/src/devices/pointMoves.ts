import { isSetting } from '@loka/core/points';
import { Injectable } from '@nestjs/common';
import { LOCAL_PERSON } from '../audit/person.js';
import { DeviceBook } from '../book/deviceBook.js';
import { FittingsBook } from '../book/fittingsBook.js';

/** Which device comes to measure a place, or measures it no more, when points are given other places. */
@Injectable()
export class PointMoves {
  constructor(
    private readonly book: DeviceBook,
    private readonly fittings: FittingsBook,
  ) {}

  /** What comes to a place, and what goes from one, device by device. */
  of(placed: readonly { id: number; nodeId?: number | null }[]): Map<string, number> {
    const moves = new Map<string, number>();
    const note = (nodeId: number | null | undefined, name: string, way: 'from' | 'to') => {
      if (nodeId == null) return;
      const key = JSON.stringify([nodeId, name, way]);
      moves.set(key, (moves.get(key) ?? 0) + 1);
    };
    for (const { id, nodeId } of placed) {
      const point = this.book.point(id);
      if (!point || point.nodeId === (nodeId ?? null) || isSetting(point.definition)) continue;
      note(point.nodeId, point.deviceName, 'from');
      note(nodeId, point.deviceName, 'to');
    }
    return moves;
  }

  /** Puts them down in the history of the places. */
  async putDown(moves: ReadonlyMap<string, number>): Promise<void> {
    for (const [key, count] of moves) {
      const [nodeId, name, way] = JSON.parse(key) as [number, string, 'from' | 'to'];
      const values = `${count} value${count === 1 ? '' : 's'}`;
      const says =
        way === 'to' ? `${name} measures it: ${values}` : `${name} no longer measures it: ${values}`;
      await this.fittings.add([nodeId], 'device', says, LOCAL_PERSON);
    }
  }
}

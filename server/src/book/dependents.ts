import type { Dependent } from '@loka/contract/dependents';
import { Injectable } from '@nestjs/common';

/**
 * What depends on points: whoever builds on them registers here, and whoever takes points off asks here first, without
 * knowing who that is.
 */
@Injectable()
export class Dependents {
  private readonly parts: ((pointIds: ReadonlySet<number>) => Dependent[])[] = [];

  add(part: (pointIds: ReadonlySet<number>) => Dependent[]): void {
    this.parts.push(part);
  }

  of(pointIds: Iterable<number>): Dependent[] {
    const ids = new Set(pointIds);
    return ids.size === 0 ? [] : this.parts.flatMap((part) => part(ids));
  }
}

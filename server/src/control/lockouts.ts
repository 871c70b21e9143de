import { Injectable } from '@nestjs/common';

/**
 * Why switches may not be closed now. The one guard below rules and people alike: whoever has a reason to keep a
 * switch open registers it here, and the switch asks here before it closes.
 */
@Injectable()
export class Lockouts {
  private readonly guards: ((switchId: number) => string | null)[] = [];

  add(guard: (switchId: number) => string | null): void {
    this.guards.push(guard);
  }

  /** The first reason in words, or null when the switch may close. */
  reason(switchId: number): string | null {
    for (const guard of this.guards) {
      const reason = guard(switchId);
      if (reason !== null) return reason;
    }
    return null;
  }
}

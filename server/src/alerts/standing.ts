import type { AlertKind } from '@loka/contract/alerts';
import { Injectable } from '@nestjs/common';

/** Something that is the matter now, without a limit that somebody has set. */
export interface Standing {
  /** Tells it from all others, and stays the same while it lasts. */
  source: string;
  kind: AlertKind;
  name: string;
  /** What is the matter, in words. */
  condition: string;
  pointId: number | null;
}

/**
 * What is the matter with the parts of Loka: each registers here and is asked again and again. What has come is raised as an
 * alert, what has gone returns.
 */
@Injectable()
export class StandingAlerts {
  private readonly parts: (() => Standing[])[] = [];

  add(part: () => Standing[]): void {
    this.parts.push(part);
  }

  all(): Standing[] {
    return this.parts.flatMap((part) => part());
  }
}

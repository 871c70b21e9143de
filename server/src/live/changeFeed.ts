import type { ChangedTopic } from '@loka/contract/readings';
import { Injectable } from '@nestjs/common';
import { Subject } from 'rxjs';

/** Tells the rest of the server, and the pages, that a list has changed. */
@Injectable()
export class ChangeFeed {
  readonly changed = new Subject<ChangedTopic>();

  say(...topics: ChangedTopic[]): void {
    for (const topic of topics) this.changed.next(topic);
  }
}

/**
 * Has what is read from the database taken up in the order in which the readings began. Of two at a time the older one
 * may end last; what it has found is then out of date already and must not stay. Nobody waits for anybody: a reading
 * that hangs holds up none that begins after it. (rxjs' switchMap would throw an older answer away as soon as a newer
 * reading begins, and have nothing at all when the newer one then fails.)
 */
export class Newest {
  private begun = 0;
  private taken = 0;

  /** Reads, and takes up what was read, unless what a later reading has found was taken up already. */
  async take<T>(read: () => Promise<T>, takeUp: (found: T) => void): Promise<void> {
    const mine = ++this.begun;
    const found = await read();
    if (mine < this.taken) return;
    this.taken = mine;
    takeUp(found);
  }
}

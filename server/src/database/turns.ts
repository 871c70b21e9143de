/**
 * Has work done one after the other, in the order in which it was asked for. What is read from the database again
 * after each change needs it: of two readings at a time the older one could end last, and what it found would stay.
 */
export class Turns {
  private last: Promise<unknown> = Promise.resolve();

  /** Begins when all that was asked for before has ended, well or badly. @returns what the work returns or throws */
  take<T>(work: () => Promise<T>): Promise<T> {
    const mine = this.last.then(work);
    // Its own caller hears of a failure; who comes after it is not held up.
    this.last = mine.catch(() => undefined);
    return mine;
  }
}

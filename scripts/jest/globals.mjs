// What '@jest/globals' gives, from those that the runner has set.
export const { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, jest, test } = globalThis;

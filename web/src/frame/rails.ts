/** Which busbars run past a row: one for each level above, true where more hangs on it further down. */
export type Rails = boolean[];

/** A port that is free on loopback: the first one from `from` on, or any where `from` is 0. */
export function freePort(from?: number): Promise<number>;
/** Several free ports at once, all different. */
export function freePorts(count: number, from?: number): Promise<number[]>;
/** Whether something listens at a port on loopback. */
export function listens(port: number): Promise<boolean>;

/**
 * By how much a limit of the tests is longer than a machine needs that does nothing else. A limit is there to end what
 * hangs; what was to take seconds took ten times as long on machines that were kept busy by others.
 */
export const PATIENCE = 4;

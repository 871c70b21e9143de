export const PATIENCE: number;

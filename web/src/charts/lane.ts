/** Where a trend is drawn within its box, px from the sides: the lane below it keeps to the same. */
export const TREND_LEFT = 62;
export const TREND_RIGHT = 12;

/* The common frame of the store, the wall and the daily use: one time axis. */

/** Room for depth figures at the left [px]. */
export const LEFT = 44;
/** Share of the width that lies ahead of now. */
export const AHEAD_SHARE = 0.16;

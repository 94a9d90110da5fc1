/** Recordings longer than this are not read, s: their samples lie in memory. */
export const MOST_SECONDS = 15 * 60

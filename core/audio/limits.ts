/** Recordings longer than this are not read, s: their samples lie in memory. */
export const MAX_SECONDS = 15 * 60

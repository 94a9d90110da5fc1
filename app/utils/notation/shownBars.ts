/** So many bars of a song that comes in are shown before it is saved. */
export const SHOWN_BARS = 8

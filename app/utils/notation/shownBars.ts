/** Bars of an imported song previewed before it is saved. */
export const SHOWN_BARS = 8

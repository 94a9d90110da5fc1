/** What the engraver says when it is asked for bars of a score that it does not have (any more). */
export const UNKNOWN_SCORE = 'unknown score'

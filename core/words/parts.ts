/** What becomes of the passes of a part that is joined with another or removed. */
export const goneText = (name: string, into?: string): string =>
  `${into === undefined ? `“${name}” is removed.` : `“${name}” is now part of “${into}”.`} Its passes stay in the Logbook, and what you learned still counts. Undo brings it back.`

/** The name of a removed part whose passes are kept. */
export const GONE_PART = 'a part that is gone'

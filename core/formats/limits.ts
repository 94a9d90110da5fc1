/** What a score file may hold at most. Far above any real piano arrangement; a file beyond is refused, not cut. */
export const LIMITS = {
  /** Bytes of a score file as it comes (compressed or not). */
  fileBytes: 20_000_000,
  /** Bytes of MusicXML inside a compressed file. */
  unpackedBytes: 60_000_000,
  /** Entries in a compressed file. */
  archiveEntries: 1_000,
  /** Elements within elements. MusicXML itself needs about ten. */
  xmlDepth: 60,
  /** XML elements: about 30 for each note of a full score. */
  xmlElements: 4_000_000,
  parts: 60,
  bars: 5_000,
  notes: 150_000,
  /** Warnings listed one by one; the rest are counted. */
  warnings: 200,
  /** Characters of a chord chart. */
  chartCharacters: 200_000,
  /** Characters of any one name, title or word taken from a file. */
  textLength: 300,
} as const

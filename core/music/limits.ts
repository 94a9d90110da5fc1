/**
 * Upper limits for a song, a take or a set of corrections, checked before any work is done on it. Far above any real
 * piano arrangement; anything beyond is refused, not cut.
 */
export const LIMITS = {
  /**
   * Bytes of a score file as uploaded (compressed or not), and of a MIDI file: half an hour of playing with a
   * continuous pedal has about 300,000.
   */
  fileBytes: 20_000_000,
  midiBytes: 2_000_000,
  /** Bytes of MusicXML inside a compressed file. */
  unpackedBytes: 60_000_000,
  /** Entries in a compressed file. */
  archiveEntries: 1_000,
  /** Elements within elements. MusicXML itself needs about ten. */
  xmlDepth: 60,
  /** XML elements: about 30 for each note of a full score. */
  xmlElements: 1_200_000,
  parts: 60,
  /** Parts that a song is divided into for practice. */
  cuts: 400,
  tracks: 200,
  sections: 1_000,
  bars: 5_000,
  /** Notes of all parts together; the longest piano sonatas have about 25,000. */
  notes: 40_000,
  /** Notes beginning at one time: twice as many as a piano has keys. */
  atOnce: 200,
  /** Changes of meter, tempo, key or pedal. */
  marks: 20_000,
  /** Warnings listed one by one; the rest are counted. */
  warnings: 200,
  /** Characters of a chord chart, of one line of it, and of a chord symbol. */
  chartCharacters: 200_000,
  chartLine: 2_000,
  symbolCharacters: 40,
  /** Characters of any one name, title or word taken from a file. */
  textLength: 300,
  /** Notes of a take, and its length in ms. */
  takeNotes: 20_000,
  takeMs: 3_600_000,
  /** Corrections made at once, and the product of corrections and notes: each one goes over all notes of the song. */
  changes: 2_000,
  changedNotes: 5_000_000,
} as const

/** The program's words, each explained in a sentence at its first use. */
export const GLOSSARY = {
  part: 'A short stretch of the song, usually one to eight bars, that is learned by itself; phrases often begin before the bar line, and so do parts.',
  pass: 'One time through what is played, from its first beat to its last.',
  'clean pass':
    'Right notes, in time, hands together, without hesitating. Touch, pedal and loudness are said beside it and come later.',
  gate: 'What opens the next step: as many clean passes as it takes to be sure that it was no luck, or a number in a row that you set.',
  step: 'One tempo on the way from the slow beginning to the song’s own; each tread of the stairs is one.',
  join: 'Two parts played one after the other; first only the seam between them.',
  review: 'A part that you know comes back after some days, before it is forgotten.',
} as const

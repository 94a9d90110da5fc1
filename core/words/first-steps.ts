/** The steps of the first ten minutes, in order. */
export const FIRST_STEPS = [
  'keyboard',
  'hear',
  'delay',
  'reach',
  'names',
  'level',
  'song',
  'listen',
  'play',
  'sentence',
] as const
export type FirstStep = (typeof FIRST_STEPS)[number]

/** What each step is called, and what is done in it. */
export const FIRST_STEP_WORDS: Record<FirstStep, { title: string; what: string }> = {
  keyboard: { title: 'Your keyboard', what: 'Press any key on your piano.' },
  hear: { title: 'Its sound', what: 'Play a few keys. Do you hear each of them once?' },
  delay: {
    title: 'Its delay',
    what: 'Tap any one key with the click for twenty seconds. Your timing is judged without this delay from then on.',
  },
  reach: {
    title: 'Your hand',
    what: 'Hold the widest chord that one hand reaches comfortably. No fingering you are shown will ask for more; forcing a stretch can injure a hand.',
  },
  names: { title: 'Note names', what: 'Play a key and choose what it is called.' },
  level: { title: 'What you can play', what: 'It sets how slowly new things begin. The first passes put it right.' },
  song: { title: 'A song', what: 'Bring one of your own, or take one of ours.' },
  listen: { title: 'Hear it first', what: 'Know how it goes before you touch a key.' },
  play: { title: 'Play it', what: 'Your first part, one hand. The music waits for your keys: take the time you need.' },
  sentence: {
    title: 'What was heard',
    what: 'After each pass you read one true sentence about it. Every figure behind it can be read at its note.',
  },
}

const SPANS = [
  '',
  '',
  '',
  '',
  '',
  '',
  '',
  'a fifth',
  'a minor sixth',
  'a major sixth',
  'a minor seventh',
  'a major seventh',
  'an octave',
  'a minor ninth',
  'a major ninth',
  'a minor tenth',
  'a major tenth',
  'an eleventh',
  'an augmented eleventh',
  'a twelfth',
]

/** How far a hand reaches, by the interval from its lowest to its highest key: "an octave (12 half steps)". */
export const reachText = (halfSteps: number): string =>
  `${SPANS[halfSteps] || `${halfSteps} half steps`}${SPANS[halfSteps] ? ` (${halfSteps} half steps)` : ''}`

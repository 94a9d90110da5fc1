/**
 * The input cannot be used. `place` says where in it (line, byte, bar, part) and `expected` what was expected;
 * the message is both, in a sentence for the person who brought the file.
 */
export class UnusableInput extends Error {
  override readonly name = 'UnusableInput'
  constructor(
    readonly place: string,
    readonly expected: string,
  ) {
    super(place ? `${place}: ${expected}` : expected)
  }
}

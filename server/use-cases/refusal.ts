/** A request that cannot be done, with the reason for the player; `status` is the answer's. */
export class Refusal extends Error {
  override readonly name = 'Refusal'
  constructor(
    readonly status: 400 | 401 | 403 | 404 | 409 | 413 | 422 | 429,
    message: string,
    readonly retryAfterSeconds?: number,
  ) {
    super(message)
  }
}

export const notThere = (what: string) => new Refusal(404, `${what} is not there, or is not yours`)

/** A save that could not be: of what is not there, or of what was saved in another window since. */
export const unsaved = (why: 'missing' | 'stale') =>
  why === 'missing'
    ? notThere('this arrangement')
    : new Refusal(409, 'this song was changed in another window since; reload the page to go on from there')

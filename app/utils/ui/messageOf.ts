/** What a failed request has to say to the player. */
export function messageOf(error: unknown): string {
  const answer = error as { data?: { message?: string }; message?: string }
  return answer.data?.message ?? answer.message ?? 'Something went wrong; please try again.'
}

/**
 * How the server is asked: with addresses as plain text, of which there are more than the types of all routes can be
 * told apart for.
 */
export type Request = <Answer = unknown>(
  url: string,
  options?: { method?: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE'; body?: object },
) => Promise<Answer>

export const askServer: Request = async (url, options) => await ($fetch as unknown as Request)(url, options)

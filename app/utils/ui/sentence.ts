/** A reason as a sentence of its own. */
export const sentence = (text: string): string =>
  text === '' ? '' : `${text.charAt(0).toUpperCase()}${text.slice(1)}${/[.!?]$/.test(text) ? '' : '.'}`

/** Standard MIDI Files 1.0 asks for ASCII in text events. */
export const asciiText = (text: string): string => text.normalize('NFKD').replace(/[^\x20-\x7E]/g, '')

/** Control characters, and marks that turn the direction of what follows: they would steer the terminal, not be read. */
const STEERING = /[\u0000-\u001f\u007f-\u009f\u200e\u200f\u202a-\u202e\u2066-\u2069]/g;

/** A text from a file as it can be shown on one line of a terminal: what would steer it is spelled out. */
export const shown = (text: string): string =>
  text.replace(STEERING, (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`);

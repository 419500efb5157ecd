/** A line of text as TEXT holds it: ° ± Ø by their codes, so that they survive every code page and font. */
export const encodeText = (text: string): string =>
  text.replace(/%%/g, '%%%%%%').replace(/°/g, '%%d').replace(/±/g, '%%p').replace(/Ø/g, '%%c');

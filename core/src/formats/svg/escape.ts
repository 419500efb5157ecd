/** A text without the control characters that XML has no place for: each becomes the replacement character. */
export const xmlText = (text: string): string => text.replace(/[\x00-\x08\x0b\x0c\x0e-\x1f]/g, '\ufffd');

/** Text as XML holds it. */
export const escapeXml = (text: string): string =>
  xmlText(text).replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');

/** Text as XML holds it; control characters that XML has no place for become the replacement character. */
export const escapeXml = (text: string): string =>
  text
    .replace(/[\x00-\x08\x0b\x0c\x0e-\x1f]/g, '\ufffd')
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .replace(/"/g, '&quot;');

/** A text without the control characters that XML has no place for: each becomes the replacement character. */
export const xmlText = (text: string): string => text.replace(/[\x00-\x08\x0b\x0c\x0e-\x1f]/g, '\ufffd');

const SPECIAL = /[\x00-\x08\x0b\x0c\x0e-\x1f&<>"]/;

/** Text as XML holds it. Most needs nothing, which is seen in one pass. */
export function escapeXml(text: string): string {
  if (!SPECIAL.test(text)) return text;
  return xmlText(text).replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');
}

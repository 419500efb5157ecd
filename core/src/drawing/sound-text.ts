/** U+0000, and halves of surrogate pairs that stand alone: what neither XML nor a database nor JSON on its way can hold. */
const UNSOUND = /\0|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;
const ALL_UNSOUND = new RegExp(UNSOUND.source, 'g');

/** Whether a text can be kept everywhere as it is. */
export const isSoundText = (text: string): boolean => !UNSOUND.test(text);

/** A text in which each character that cannot be kept became U+FFFD, the replacement character. */
export const soundText = (text: string): string => (isSoundText(text) ? text : text.replace(ALL_UNSOUND, '\ufffd'));

/**
 * An object of a DWG whose fields are not known is carried as its bits. Its record then has tags that no DXF has: the
 * version, and the bytes of the object as hex digits.
 */
export const SEALED_VERSION = -1;
export const SEALED_BITS = -2;

/** Whether a record in its own form is one of bits. */
export const isSealed = (raw: string): boolean => raw.includes(`\n${SEALED_VERSION}\nAC`);

/** What went wrong, for machines; people read the message. */
export type ErrorCode =
  | 'stopped'
  | 'unreadable-file'
  | 'unreadable-font'
  | 'cannot-deliver'
  | 'page-too-small'
  | 'unwritable-number'
  | 'unknown-version'
  | 'unknown-step'
  | 'wrong-parameter';

/**
 * What a person can mend, or asked for: the message says what and is shown as it is. Everything else that is thrown, the
 * engine's own errors above all, is a mistake of this program: it is logged and told as ours.
 */
export class UserError extends Error {
  override name = 'UserError';
  constructor(
    readonly code: ErrorCode,
    message: string,
    options?: ErrorOptions,
  ) {
    super(message, options);
  }
}

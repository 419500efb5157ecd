/** The command line is not understood; the message says why. */
export class WrongUsage extends Error {
  override name = 'WrongUsage';
}

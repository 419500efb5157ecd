// What every host of the core offers (browser, worker, Node) and the ES library does not describe.
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean; ignoreBOM?: boolean });
  decode(input?: Uint8Array): string;
}
declare class TextEncoder {
  encode(input: string): Uint8Array<ArrayBuffer>;
  encodeInto(input: string, into: Uint8Array): { read: number; written: number };
}

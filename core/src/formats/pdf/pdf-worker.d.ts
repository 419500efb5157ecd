// The other half of the parser, which its types leave out.
declare module 'pdfjs-dist/legacy/build/pdf.worker.mjs' {
  export const WorkerMessageHandler: object;
}

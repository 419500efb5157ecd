export * from './formats/index.js';
export * from './formats/format.js';
export { readDxf } from './formats/dxf/read.js';
export { writeDxf, WRITABLE_VERSIONS } from './formats/dxf/write.js';
export { readSvg } from './formats/svg/read.js';
export { writeSvg } from './formats/svg/write.js';
export * from './text/fonts.js';

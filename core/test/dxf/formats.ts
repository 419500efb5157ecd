export { readDrawing } from '../../src/index.js';
export { writeDxf } from '../../src/formats/dxf/write.js';

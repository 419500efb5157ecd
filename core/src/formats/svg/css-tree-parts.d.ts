// The parts of css-tree without the tables of its value checker, which are most of it and not needed here.
declare module 'css-tree/parser' {
  export { parse as default } from 'css-tree';
}
declare module 'css-tree/generator' {
  export { generate as default } from 'css-tree';
}

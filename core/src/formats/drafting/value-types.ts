export type ValueType = 'text' | 'double' | 'int16' | 'int32' | 'int64' | 'bool' | 'bytes';

/** How the value of a group code is stored in a binary DXF (DXF reference, "Group Code Value Types"). */
export function valueType(code: number): ValueType {
  if (code < 0) return 'text';
  if (code < 10) return 'text';
  if (code < 60) return 'double';
  if (code < 80) return 'int16';
  if (code < 90) return 'text';
  if (code < 100) return 'int32';
  if (code < 110) return 'text';
  if (code < 150) return 'double';
  if (code < 160) return 'text';
  if (code < 170) return 'int64';
  if (code < 180) return 'int16';
  if (code < 210) return 'text';
  if (code < 240) return 'double';
  if (code < 270) return 'text';
  if (code < 290) return 'int16';
  if (code < 300) return 'bool';
  if (code < 310) return 'text';
  if (code < 320) return 'bytes';
  if (code < 370) return 'text';
  if (code < 390) return 'int16';
  if (code < 400) return 'text';
  if (code < 410) return 'int16';
  if (code < 420) return 'text';
  if (code < 430) return 'int32';
  if (code < 440) return 'text';
  if (code < 460) return 'int32';
  if (code < 470) return 'double';
  if (code < 1000) return 'text';
  if (code === 1004) return 'bytes';
  if (code < 1010) return 'text';
  if (code < 1060) return 'double';
  if (code < 1071) return 'int16';
  return 'int32';
}

/** How colours are shown: legible against the ground, as they are, or all in ink. */
export const INKS = ['legible', 'true', 'ink'] as const;
export type Ink = (typeof INKS)[number];

export const HAIR_VERTEX = `
in vec3 position;
in vec4 colour;
uniform vec2 scale;
uniform vec2 shift;
flat out vec4 tone;
void main() {
  tone = colour;
  gl_Position = vec4((position.xy - shift) * scale, -position.z * 0.9999, 1.0);
}`;

/**
 * A chord with a width: four corners about it, in pixels. A width above 0 is in the drawing's unit, below 0 in millimetres
 * on paper, which a screen shows at 96 dots per inch. No line gets thinner than a hairline.
 */
export const WIDE_VERTEX = `
in vec2 position;
in vec3 from;
in vec3 to;
in vec4 colour;
in float width;
in float ends;
in float run;
uniform vec2 scale;
uniform vec2 shift;
uniform vec2 size;
uniform float zoom;
flat out vec4 tone;
out vec2 along;
flat out float len;
flat out float half_width;
flat out float round_ends;
flat out float before_it;
void main() {
  tone = colour;
  vec2 a = (from.xy - shift) * scale * size * 0.5;
  vec2 b = (to.xy - shift) * scale * size * 0.5;
  float px = width >= 0.0 ? width * zoom : -width * 96.0 / 25.4;
  half_width = max(px, 1.0) * 0.5;
  vec2 d = b - a;
  len = length(d);
  vec2 t = len > 0.0 ? d / len : vec2(1.0, 0.0);
  vec2 n = vec2(-t.y, t.x);
  round_ends = ends;
  before_it = run * zoom;
  float before = mod(ends, 2.0) >= 1.0 ? half_width : 0.0;
  float after = ends >= 2.0 ? half_width : 0.0;
  along = vec2(mix(-before, len + after, position.x), (position.y * 2.0 - 1.0) * half_width);
  vec2 p = a + t * along.x + n * along.y;
  gl_Position = vec4(p / (size * 0.5), -from.z * 0.9999, 1.0);
}`;

// The tone is not interpolated: a chord has one colour, and its alpha is a mark that must arrive exactly.
// A colour that would vanish on the ground is moved towards the ink; alpha 254/255 marks the foreground colour, 252/255 the ground, 250/255
// an area as thin as a line.
const TONE = `
precision highp float;
flat in vec4 tone;
uniform vec3 ink;
uniform vec3 paper;
uniform vec4 tint;
uniform int inks;
uniform bool bar;
out vec4 result;
float light(vec3 c) { return dot(c, vec3(0.2126, 0.7152, 0.0722)); }
void settle() {
  vec3 c = tone.rgb;
  float a = tone.a;
  if (a == 0.0) discard;
  bool thin = lines;
  if (a > 0.978 && a < 0.983) { thin = true; a = 1.0; }
  if (a > 0.994 && a < 0.998) { c = ink; a = 1.0; }
  else if (a > 0.986 && a < 0.990) { c = paper; a = 1.0; }
  else if (inks == 2) c = thin ? ink : mix(ink, paper, 0.35 + 0.4 * light(c));
  else if (thin && inks == 0) {
    float near = 1.0 - smoothstep(0.12, 0.42, abs(light(c) - light(paper)));
    c = mix(c, mix(c, ink, 0.5), near);
  }
  // Of two drawings on each other the areas let through what lies under them.
  if (tint.a > 0.0) { c = mix(c, tint.rgb, tint.a); if (!thin) a *= 0.35; }
  result = vec4(c, a);
}`;

export const fragment = (lines: boolean): string =>
  `${TONE.replace('uniform vec3 ink', `const bool lines = ${lines};\nuniform vec3 ink`)}\nvoid main() {
  settle();
  // What is selected: areas in stripes of ink and ground.
  if (bar) result = vec4(mod(gl_FragCoord.x + gl_FragCoord.y, 10.0) < 5.0 ? ink : paper, 0.62);
}`;

export const WIDE_FRAGMENT = `${TONE.replace('uniform vec3 ink', 'const bool lines = true;\nuniform vec3 ink')}
in vec2 along;
flat in float len;
flat in float half_width;
flat in float round_ends;
flat in float before_it;
void main() {
  float beyond = along.x < 0.0 ? -along.x : max(0.0, along.x - len);
  if (beyond > 0.0 && length(vec2(beyond, along.y)) > half_width) discard;
  settle();
  // What is selected is drawn as a scale bar: ink and ground in turn along the curve, with an edge of ink.
  if (bar) {
    bool dark = mod(before_it + along.x, 22.0) < 11.0;
    result = vec4(dark || abs(along.y) > half_width - 1.2 ? ink : paper, 1.0);
  }
}`;

export const PICTURE_VERTEX = `
in vec3 position;
in vec2 spot;
uniform vec2 scale;
uniform vec2 shift;
out vec2 at;
void main() {
  at = spot;
  gl_Position = vec4((position.xy - shift) * scale, -position.z * 0.9999, 1.0);
}`;

/** A picture keeps its own colours; where all is in ink it is a tone between ink and ground. */
export const PICTURE_FRAGMENT = `
precision highp float;
in vec2 at;
uniform sampler2D picture;
uniform float opacity;
uniform vec3 ink;
uniform vec3 paper;
uniform vec4 tint;
uniform int inks;
out vec4 result;
void main() {
  vec4 c = texture(picture, at);
  if (c.a * opacity < 0.004) discard;
  vec3 tone = c.rgb;
  if (inks == 2) tone = mix(ink, paper, dot(tone, vec3(0.2126, 0.7152, 0.0722)));
  // What is laid over a picture has to be seen on it: it is paler, and keeps its colours.
  if (tint.a > 0.0) tone = mix(tone, paper, 0.6);
  result = vec4(tone, c.a * opacity);
}`;

/**
 * What a person reads in a TEXT: `%%c` Ø, `%%d` °, `%%p` ±, `%%nnn` a character by number; `%%u`, `%%o`, `%%k`
 * switch lines over, under and through, and leave no character.
 */
export function plainOfText(raw: string): string {
  if (!raw.includes('%%')) return raw;
  return raw.replace(/%%(\d{3}|[cdpuok%])/gi, (_, code: string) => {
    const c = code.toLowerCase();
    if (c === 'c') return 'Ø';
    if (c === 'd') return '°';
    if (c === 'p') return '±';
    if (c === '%') return '%';
    return /\d/.test(c) ? String.fromCharCode(Number(c)) : '';
  });
}

/**
 * What a person reads in an MTEXT: paragraphs (`\P`) as line breaks, formatting codes left out, stacked fractions as
 * `a/b`, `\~` as a no-break space, braces that only group left out.
 */
export function plainOfRichText(raw: string): string {
  let out = '';
  for (let i = 0; i < raw.length; i++) {
    const c = raw[i];
    if (c === '{' || c === '}') continue;
    if (c === '^' && i + 1 < raw.length) {
      const next = raw[++i];
      out += next === 'J' ? '\n' : next === 'I' ? '\t' : next === ' ' ? '^' : '';
      continue;
    }
    if (c !== '\\' || i + 1 >= raw.length) {
      out += c;
      continue;
    }
    const code = raw[++i]!;
    if (code === 'P' || code === 'N') out += '\n';
    else if (code === '~') out += '\u00a0';
    else if (code === '\\' || code === '{' || code === '}') out += code;
    else if (code === 'S') {
      const end = raw.indexOf(';', i);
      const body = raw.slice(i + 1, end < 0 ? raw.length : end);
      out += body.replace(/[\^#]/g, '/').replace(/\s*\/\s*/, '/');
      i = end < 0 ? raw.length : end;
    } else if ('ACcFfHhpQTWw'.includes(code)) {
      const end = raw.indexOf(';', i);
      if (end < 0) break;
      i = end;
    } else if (!'LlOoKk'.includes(code)) out += code;
  }
  return plainOfText(out);
}

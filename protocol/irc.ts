/**
 * IRC messages: RFC 1459 §2.3 with the tags of IRCv3 (Message Tags specification). Fed with any pieces of a stream; lines that
 * are too long or make no sense are counted and left out.
 */

export interface IrcMessage {
  tags: ReadonlyMap<string, string>;
  /** Nickname or server it comes from; empty when it says none. */
  nick: string;
  command: string;
  params: readonly string[];
}

/** Tags 8191 bytes with their @ and space, the rest 512 with CR LF (Message Tags, "Size limit"). */
const MAX_LINE = 8191 + 512;
const MAX_PARAMS = 15;

const UNESCAPED: Record<string, string> = { ':': ';', s: ' ', '\\': '\\', r: '\r', n: '\n' };

function unescapeTag(value: string): string {
  return value.replace(/\\(.?)/gs, (_, char: string) => UNESCAPED[char] ?? char);
}

export function escapeTag(value: string): string {
  return value.replace(/[;\s\\]/g, (char) =>
    char === ';' ? '\\:' : char === ' ' ? '\\s' : char === '\\' ? '\\\\' : char === '\r' ? '\\r' : '\\n',
  );
}

/** One line without its end; null when it is none. */
export function parseIrcLine(line: string): IrcMessage | null {
  let rest = line;
  const tags = new Map<string, string>();
  if (rest.startsWith('@')) {
    const end = rest.indexOf(' ');
    if (end < 0) return null;
    for (const tag of rest.slice(1, end).split(';')) {
      const equals = tag.indexOf('=');
      const key = equals < 0 ? tag : tag.slice(0, equals);
      if (key !== '') tags.set(key, equals < 0 ? '' : unescapeTag(tag.slice(equals + 1)));
    }
    rest = rest.slice(end + 1).replace(/^ +/, '');
  }
  let nick = '';
  if (rest.startsWith(':')) {
    const end = rest.indexOf(' ');
    if (end < 0) return null;
    nick = rest.slice(1, end).split(/[!@]/)[0];
    rest = rest.slice(end + 1).replace(/^ +/, '');
  }
  const params: string[] = [];
  while (rest !== '' && params.length <= MAX_PARAMS) {
    if (rest.startsWith(':') && params.length > 0) {
      params.push(rest.slice(1));
      break;
    }
    const end = rest.indexOf(' ');
    params.push(end < 0 ? rest : rest.slice(0, end));
    rest = end < 0 ? '' : rest.slice(end + 1).replace(/^ +/, '');
  }
  const command = params.shift()?.toUpperCase() ?? '';
  return /^([A-Z]{1,20}|\d{3})$/.test(command) ? { tags, nick, command, params } : null;
}

/** Cuts a byte stream into messages. */
export class IrcParser {
  /** Bytes that wait for the rest of their line. */
  #waiting: Uint8Array = new Uint8Array(0);
  #overlong = false;
  /** Lines that were left out. */
  garbage = 0;
  readonly #decoder = new TextDecoder('utf-8');

  push(chunk: Uint8Array): IrcMessage[] {
    const messages: IrcMessage[] = [];
    let from = 0;
    for (let i = 0; i < chunk.length; i++) {
      // Servers end lines with CR LF; a lone LF is taken too.
      if (chunk[i] !== 0x0a) continue;
      const line = joined(this.#waiting, chunk.subarray(from, i));
      this.#waiting = new Uint8Array(0);
      from = i + 1;
      if (this.#overlong) {
        this.#overlong = false;
        this.garbage += 1;
        continue;
      }
      const text = this.#decoder.decode(line).replace(/[\r\0]/g, '');
      if (text === '') continue;
      const message = parseIrcLine(text);
      if (message) messages.push(message);
      else this.garbage += 1;
    }
    if (from < chunk.length) {
      if (this.#overlong || this.#waiting.length + chunk.length - from > MAX_LINE) {
        this.#overlong = true;
        this.#waiting = new Uint8Array(0);
      } else this.#waiting = joined(this.#waiting, chunk.subarray(from));
    }
    return messages;
  }
}

function joined(first: Uint8Array, second: Uint8Array): Uint8Array {
  const all = new Uint8Array(first.length + second.length);
  all.set(first);
  all.set(second, first.length);
  return all;
}

/** Writes a line; what could end it early or begin another is taken out. @throws RangeError for a parameter that cannot be sent */
export function ircLine(
  command: string,
  params: readonly string[] = [],
  tags: Readonly<Record<string, string>> = {},
): string {
  const clean = params.map((param) => param.replace(/[\r\n\0]+/g, ' '));
  clean.forEach((param, i) => {
    const last = i === clean.length - 1;
    if (!last && (param === '' || param.includes(' ') || param.startsWith(':')))
      throw new RangeError(`IRC parameter ${i} cannot be sent: "${param}"`);
  });
  const last = clean.length - 1;
  const written = clean.map((param, i) =>
    i === last && (param === '' || param.includes(' ') || param.startsWith(':')) ? `:${param}` : param,
  );
  const head = Object.entries(tags).map(([key, value]) =>
    value === '' ? key : `${key}=${escapeTag(value)}`,
  );
  return `${head.length > 0 ? `@${head.join(';')} ` : ''}${[command, ...written].join(' ')}\r\n`;
}

import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { ircLine, IrcParser, parseIrcLine } from './irc';

const bytes = (text: string) => new TextEncoder().encode(text);

describe('lines', () => {
  test('tags, source, command, parameters', () => {
    // The example of the IRCv3 Message Tags specification, with an escaped value beside it.
    const message = parseIrcLine(
      '@aaa=bbb;ccc;example.com/ddd=eee\\sf\\:\\\\ :nick!ident@host.com PRIVMSG me :Hello you',
    )!;
    expect([...message.tags]).toEqual([
      ['aaa', 'bbb'],
      ['ccc', ''],
      ['example.com/ddd', 'eee f;\\'],
    ]);
    expect(message).toMatchObject({ nick: 'nick', command: 'PRIVMSG', params: ['me', 'Hello you'] });
  });

  test.each([
    ['PING :token one', 'PING', ['token one']],
    [':server 001 me :Welcome', '001', ['me', 'Welcome']],
    ['privmsg #a ::)', 'PRIVMSG', ['#a', ':)']],
    ['MODE #a +b x!*@*', 'MODE', ['#a', '+b', 'x!*@*']],
    ['JOIN   #a', 'JOIN', ['#a']],
  ])('%s', (line, command, params) => expect(parseIrcLine(line)).toMatchObject({ command, params }));

  test.each(['', '@tags', ':source', '%%%', '12', '@a=b :x'])('%j is none', (line) =>
    expect(parseIrcLine(line)).toBeNull(),
  );

  test('what is written is read again, and can never be two lines', () => {
    const middle = fc.stringMatching(/^[a-z#][a-z0-9]{0,10}$/);
    fc.assert(
      fc.property(
        fc.array(middle, { maxLength: 5 }),
        fc.string({ unit: 'binary' }),
        fc.string(),
        (params, last, tag) => {
          const line = ircLine('PRIVMSG', [...params, last.toWellFormed()], { 'a/b': tag });
          expect(line.indexOf('\n')).toBe(line.length - 1);
          const [message] = new IrcParser().push(bytes(line));
          expect(message.params).toEqual([...params, last.toWellFormed().replace(/[\r\n\0]+/g, ' ')]);
        },
      ),
    );
    expect(() => ircLine('KICK', ['#a b', 'x'])).toThrow(RangeError);
  });
});

describe('a stream', () => {
  const stream = bytes('PING :é1\r\n@msgid=7 :n!u@h PRIVMSG #a :snow ☃\n:s 001 me :hi\r\n');
  const commands = (chunks: Uint8Array[]) => {
    const parser = new IrcParser();
    return chunks.flatMap((c) => parser.push(c)).map((m) => [m.command, ...m.params]);
  };
  const whole = [
    ['PING', 'é1'],
    ['PRIVMSG', '#a', 'snow ☃'],
    ['001', 'me', 'hi'],
  ];

  test('whole, byte by byte, and cut anywhere', () => {
    expect(commands([stream])).toEqual(whole);
    expect(commands([...stream].map((b) => Uint8Array.of(b)))).toEqual(whole);
    for (let cut = 0; cut <= stream.length; cut++)
      expect(commands([stream.subarray(0, cut), stream.subarray(cut)])).toEqual(whole);
  });

  test('a line without end is left out, what follows is read', () => {
    const parser = new IrcParser();
    for (let i = 0; i < 20; i++) parser.push(new Uint8Array(1000).fill(0x61));
    expect(parser.push(bytes('x\r\nPING :1\r\n')).map((m) => m.command)).toEqual(['PING']);
    expect(parser.garbage).toBe(1);
  });

  test('any bytes are survived', () => {
    fc.assert(
      fc.property(fc.array(fc.uint8Array({ maxLength: 200 })), (chunks) => {
        const parser = new IrcParser();
        for (const chunk of chunks) parser.push(chunk);
        expect(parser.push(bytes('\r\nPING :1\r\n')).at(-1)?.command).toBe('PING');
      }),
    );
  });
});

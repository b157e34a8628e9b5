import { expect, test } from 'vitest';
import { sampleConnector } from './sample-connector';
import { addressesIn, chatLogin, filledCall, hostsOf, serversIn, valueAt } from './connector';
import { destinationOf } from './destination';

const values = { title: 'Snow & "ice"', tags: ['fell', 'rail'], visibility: '', text: 'a\r\nb' };

test('words are filled into a body so that they stay words, a list stays a list', () => {
  const { body, headers } = filledCall(
    {
      method: 'PUT',
      url: 'https://larch.example/',
      json: {
        title: '{{title}}',
        tags: '{{ tags }}',
        note: 'tags: {{tags}}; {{other}}',
        deep: [{ v: '{{visibility}}' }, 1, null],
      },
    },
    values,
  );
  expect(JSON.parse(body!)).toEqual({
    title: 'Snow & "ice"',
    tags: ['fell', 'rail'],
    note: 'tags: fell, rail; {{other}}',
    deep: [{ v: '' }, 1, null],
  });
  expect(headers).toEqual({ 'content-type': 'application/json' });
});

test('a form and an address are encoded; a header keeps to its line', () => {
  const { url, body, headers } = filledCall(
    {
      method: 'POST',
      url: 'https://larch.example/{{title}}?t={{tags}}',
      headers: { 'X-Text': '{{text}}' },
      form: { title: '{{title}}', fixed: 'x' },
    },
    values,
  );
  expect(url).toBe('https://larch.example/Snow%20%26%20%22ice%22?t=fell%2C%20rail');
  expect(body).toBe('title=Snow+%26+%22ice%22&fixed=x');
  expect(headers).toEqual({ 'x-text': 'a b', 'content-type': 'application/x-www-form-urlencoded' });
  expect(filledCall({ method: 'GET', url: 'https://larch.example/' }, values).body).toBeNull();
  const own = {
    method: 'POST',
    url: 'https://larch.example/',
    headers: { 'Content-Type': 'text/x' },
    json: 1,
  } as const;
  expect(filledCall(own, values)).toMatchObject({ headers: { 'content-type': 'text/x' }, body: '1' });
});

test('what stands at a pointer, as RFC 6901 has its examples', () => {
  const json = { foo: ['bar', 'baz'], '': 0, 'a/b': 1, 'c%d': 2, 'm~n': 8, ' ': 7 };
  for (const [pointer, value] of [
    ['', json],
    ['/foo', ['bar', 'baz']],
    ['/foo/0', 'bar'],
    ['/', 0],
    ['/a~1b', 1],
    ['/c%d', 2],
    ['/m~0n', 8],
    ['/ ', 7],
    ['/foo/2', undefined],
    ['/none/of/it', undefined],
    ['/foo/constructor', undefined],
    ['/toString', undefined],
  ] as const)
    expect(valueAt(json, pointer)).toEqual(value);
  expect(valueAt(null, '/a')).toBeUndefined();
  expect(valueAt('text', '/length')).toBeUndefined();
});

test('of the servers those of the regions one may use', () => {
  const all = [
    { name: 'Valley', url: 'rtmp://v/x', region: 'valley' },
    { name: 'Abroad', url: 'rtmp://a/x', region: 'abroad' },
    { name: 'Somewhere', url: 'rtmp://s/x' },
  ];
  expect(serversIn({}, all)).toEqual(all);
  expect(serversIn({ regions: ['valley'] }, all).map(({ name }) => name)).toEqual(['Valley']);
});

test('whom this computer talks to is told, each once, and nobody is left out', () => {
  expect(hostsOf(sampleConnector())).toEqual([
    'api.larch.example',
    'chat.larch.example:6697',
    'larch.example',
  ]);
  const text = JSON.stringify(sampleConnector());
  const all = [...text.matchAll(/"((?:https?|wss?|rtmps?):[^"]+)"/g)].map(([, url]) => url);
  expect(addressesIn(sampleConnector()).sort()).toEqual(all.sort());
  const bare = {
    ...sampleConnector(),
    signIn: undefined,
    chat: undefined,
    details: undefined,
    key: undefined,
  };
  expect(hostsOf({ ...bare, announcement: undefined, ingest: { servers: [] } })).toEqual(['larch.example']);
});

test('the chat of a service is joined by the sign-in; neither name nor token can be another order', () => {
  const { chat } = sampleConnector();
  expect(chatLogin(chat!, 'Lampwright', 't0k3n')).toEqual({
    ...{ nick: 'Lampwright', password: 'oauth:t0k3n', channels: ['#lampwright'] },
  });
  const plain = { host: 'x', port: 1, tls: false, channel: '#box' };
  expect(chatLogin(plain, 'a\r\nQUIT', 'b\r\nPART #box')).toEqual({
    ...{ nick: 'aQUIT', password: 'bPART#box', channels: ['#box'] },
  });
  // A name with a place in it is no place.
  expect(chatLogin(chat!, '{{token}}', 'secret').channels).toEqual(['#{{token}}']);
});

test('a destination has what its connector says, and else what any has', () => {
  const servers = [
    { name: 'Valley', url: 'rtmps://v.example/live', region: 'valley' },
    { name: 'Ridge', url: 'rtmps://r.example/live' },
  ];
  expect(destinationOf(sampleConnector(), servers)).toMatchObject({
    ...{ name: 'Larch', connector: 'larch', url: 'rtmps://v.example/live', frame: 'tall', enabled: true },
    ...{ capKbps: 6000, keyUse: 'fresh', delaySeconds: 0 },
    servers: [
      { name: 'Valley', url: 'rtmps://v.example/live' },
      { name: 'Ridge', url: 'rtmps://r.example/live' },
    ],
  });
  expect(destinationOf({ ...sampleConnector(), ingest: {} }, servers)).toMatchObject({
    ...{ frame: 'wide', capKbps: null, keyUse: 'lasting' },
  });
});

import { describe, expect, test } from 'vitest';
import { faultWords as fault } from '../fault-words';
import { fillerUnit, NAL, nalTypes, parseAvcConfig } from './avc';
import { ByteWriter, concatBytes } from './bytes';
import { aacFrame, aacSequenceHeader, avcFrame, avcSequenceHeader, onMetaData } from './flv-payload';

const SPS = [0x67, 100, 0, 31, 5];
const PPS = [0x68, 0xce, 0x3c];
const config = (...bytes: number[]) => Uint8Array.from(bytes);
const GOOD = [1, 100, 0, 31, 0xff, 0xe1, 0, SPS.length, ...SPS, 1, 0, PPS.length, ...PPS];

describe('a configuration record', () => {
  test('gives profile, level, and every set', () => {
    expect(parseAvcConfig(config(...GOOD))).toEqual({
      ...{ profile: 100, level: 31, lengthBytes: 4 },
      ...{ sps: [config(...SPS)], pps: [config(...PPS)] },
    });
    const two = [1, 66, 0, 30, 0xfc, 0xe2, 0, 1, 0x67, 0, 2, 0x67, 9, 2, 0, 1, 0x68, 0, 1, 0x48];
    expect(parseAvcConfig(config(...two))).toEqual({
      ...{ profile: 66, level: 30, lengthBytes: 1 },
      ...{ sps: [config(0x67), config(0x67, 9)], pps: [config(0x68), config(0x48)] },
    });
    // What newer records have behind it is passed over.
    expect(parseAvcConfig(config(...GOOD, 0xfd, 0xf8)).sps).toHaveLength(1);
  });

  test('that is damaged says how', () => {
    const said = (...bytes: number[]) => fault(() => parseAvcConfig(config(...bytes)));
    const words = (what: string) => `avc.config: H.264 configuration record: ${what}`;
    expect(said()).toBe(words('wrong version or too short'));
    expect(said(...GOOD.slice(0, 6))).toBe(words('wrong version or too short'));
    expect(said(2, ...GOOD.slice(1))).toBe(words('wrong version or too short'));
    expect(said(1, 100, 0, 31, 0xfe, 0xe1, ...GOOD.slice(6))).toBe(
      words('NAL length of 3 bytes is reserved'),
    );
    expect(said(...GOOD.slice(0, 7))).toBe(words('ends inside a parameter set'));
    expect(said(...GOOD.slice(0, 12))).toBe(words('ends inside a parameter set'));
    expect(said(1, 100, 0, 31, 0xff, 0xe1, 0, 0, 1)).toBe(words('ends inside a parameter set'));
    expect(said(...GOOD.slice(0, 13))).toBe(words('no picture parameter sets'));
    expect(said(...GOOD.slice(0, 15))).toBe(words('ends inside a parameter set'));
    expect(said(1, 100, 0, 31, 0xff, 0xe1, 0, 1, 0x68, 0)).toBe(words('parameter set of type 8, 7 expected'));
    expect(said(...GOOD.slice(0, 13), 1, 0, 1, 0x67)).toBe(words('parameter set of type 7, 8 expected'));
    expect(said(1, 100, 0, 31, 0xff, 0xe0, 1, 0, 1, 0x68)).toBe(
      words('a sequence and a picture parameter set are needed'),
    );
    expect(said(...GOOD.slice(0, 13), 0)).toBe(words('a sequence and a picture parameter set are needed'));
  });
});

describe('an access unit', () => {
  test('names its units', () => {
    expect(nalTypes(config(0, 0, 0, 2, 0x06, 1, 0, 0, 0, 1, 0x65))).toEqual([NAL.sei, NAL.idr]);
    expect(nalTypes(config(1, 0x41, 2, 0x6c, 0), 1)).toEqual([NAL.slice, NAL.filler]);
    expect(nalTypes(config(0, 1, 0x09), 2)).toEqual([NAL.delimiter]);
    expect(nalTypes(config())).toEqual([]);
  });
  test('whose lengths do not add up is refused', () => {
    expect(fault(() => nalTypes(config(0, 0, 0)))).toBe('avc.picture: picture ends inside a NAL length');
    expect(fault(() => nalTypes(config(0, 0, 0, 0, 1)))).toBe(
      'avc.picture: NAL unit of 0 bytes at 4 does not fit in 5',
    );
    expect(fault(() => nalTypes(config(0, 0, 1, 0, 1)))).toBe(
      'avc.picture: NAL unit of 256 bytes at 4 does not fit in 5',
    );
  });
  test('is filled up to the byte', () => {
    expect([...fillerUnit(8)]).toEqual([0, 0, 0, 4, NAL.filler, 0xff, 0xff, 0x80]);
    expect(nalTypes(fillerUnit(300))).toEqual([NAL.filler]);
  });
});

test('bodies of FLV tags', () => {
  expect([...aacSequenceHeader(config(0x11, 0x90))]).toEqual([0xaf, 0, 0x11, 0x90]);
  expect([...aacFrame(config(7, 8))]).toEqual([0xaf, 1, 7, 8]);
  expect([...avcSequenceHeader(config(1, 2))]).toEqual([0x17, 0, 0, 0, 0, 1, 2]);
  expect([...avcFrame(config(9), true)]).toEqual([0x17, 1, 0, 0, 0, 9]);
  expect([...avcFrame(config(9), false)]).toEqual([0x27, 1, 0, 0, 0, 9]);
  const facts = { width: 640, height: 360, fps: 30, videoKbps: 1500, audioKbps: 128, sampleRate: 48_000 };
  const told = (channels: number) => new TextDecoder('latin1').decode(onMetaData({ ...facts, channels }));
  for (const name of ['@setDataFrame', 'onMetaData', 'width', 'framerate', 'videocodecid', 'audiosamplesize'])
    expect(told(2)).toContain(name);
  expect(told(2)).toContain('stereo\x01\x01');
  expect(told(1)).toContain('stereo\x01\x00');
  expect(told(2)).toContain('encoder\x02\x00\x08Dolomite');
});

test('numbers are written as they are read, however many', () => {
  const all = new ByteWriter()
    .u8(1)
    .u16(0x0203)
    .u24(0x040506)
    .u32(0x0708090a)
    .u32le(0x0e0d0c0b)
    .f64(-2)
    .bytes(config(9, 9));
  expect([...all.finish()]).toEqual([
    1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 0xc0, 0, 0, 0, 0, 0, 0, 0, 9, 9,
  ]);
  expect([...new ByteWriter().u32(-1).finish()]).toEqual([255, 255, 255, 255]);
  const long = new ByteWriter();
  for (let i = 0; i < 64; i++) long.u8(i);
  expect(long.finish()).toHaveLength(64);
  long.bytes(new Uint8Array(1000).fill(5)).u16(0x0102);
  expect([long.finish().length, ...long.finish().subarray(62, 66), ...long.finish().subarray(-3)]).toEqual([
    1066, 62, 63, 5, 5, 5, 1, 2,
  ]);
  // What was given out does not change any more.
  const before = long.finish();
  long.u8(7);
  expect(before).toHaveLength(1066);
  expect([...concatBytes([config(1), config(), config(2, 3)])]).toEqual([1, 2, 3]);
});

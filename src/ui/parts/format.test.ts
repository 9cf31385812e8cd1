import { describe, expect, it } from 'vitest';
import { streamInfo } from '../../core/testing/pictures';
import { bytes, duration, rate, secondsText, shapeText, streamText, timecode, yearBeside } from './format';

describe('timecode', () => {
  const ntsc = { num: 30000, den: 1001 };
  it('drops numbers at 29.97 as SMPTE ST 12-1 says', () => {
    expect(timecode(0, ntsc)).toBe('00:00:00;00');
    expect(timecode(1799, ntsc)).toBe('00:00:59;29');
    expect(timecode(1800, ntsc)).toBe('00:01:00;02');
    expect(timecode(17981, ntsc)).toBe('00:09:59;29');
    expect(timecode(17982, ntsc)).toBe('00:10:00;00');
    expect(timecode(107892, ntsc)).toBe('01:00:00;00');
  });
  it('drops four at 59.94 and none at whole rates', () => {
    const double = { num: 60000, den: 1001 };
    expect([timecode(3599, double), timecode(3600, double), timecode(35964, double)]).toEqual([
      '00:00:59;59',
      '00:01:00;04',
      '00:10:00;00',
    ]);
    expect(timecode(1500, { num: 25, den: 1 })).toBe('00:01:00:00');
    expect(timecode(30, { num: 24000, den: 1001 })).toBe('00:00:01:06');
    expect(timecode(0, { num: 0, den: 1 })).toBe('');
  });
});

describe('words', () => {
  it('say seconds a frame as finely as they matter', () => {
    expect([0.0042, 0.031, 0.4, 1.25, 14.4, 95].map(secondsText)).toEqual(['0.004 s', '0.03 s', '0.40 s', '1.3 s', '14 s', '1.6 min']);
  });
  it('say sizes, times and shapes', () => {
    expect([bytes(0), bytes(1536), bytes(5 * 2 ** 30)]).toEqual(['0 B', '1.5 KiB', '5.0 GiB']);
    expect([6.04, 9.97, 59.4, 59.7, 200, 899.6, 7260].map(duration)).toEqual([
      '6.0 s',
      '10 s',
      '59 s',
      '1 min 00 s',
      '3 min 20 s',
      '15 min 00 s',
      '2 h 01 min',
    ]);
    expect([rate({ num: 25, den: 1 }), rate({ num: 30000, den: 1001 })]).toEqual(['25', '29.97']);
    expect(streamText(streamInfo({ width: 1440, height: 1080, rate: { num: 60000, den: 1001 } }))).toBe('1440 × 1080, 59.94p');
    expect(shapeText(streamInfo({ width: 720, height: 480, pixelAspect: { num: 8, den: 9 } }))).toBe('4:3');
    expect(shapeText(streamInfo({ width: 1000, height: 310 }))).toBe('3.23:1');
  });
  it('say a year once', () => {
    expect([yearBeside('Christmas 1962', 1962), yearBeside('On the beach', 1962), yearBeside('On the beach', undefined)]).toEqual([
      '',
      '1962',
      '',
    ]);
  });
});

import { describe, expect, it } from 'vitest';
import { readPlan } from '../core';
import { streamInfo } from '../core/testing/pictures';
import { conditionText, factsText, planText } from './text';

const ntsc = streamInfo({ width: 720, height: 480, frames: 300, rate: { num: 30000, den: 1001 }, pixelAspect: { num: 8, den: 9 } });
const facts = {
  fileName: 'tape.mpg',
  sha256: 'ab12',
  kind: 'moving' as const,
  bytes: 1000,
  container: 'mpeg',
  codec: 'mpeg2video',
  pixelFormat: 'yuv420p',
  duration: 10.01,
  stream: ntsc,
  variableRate: false,
  tracks: [
    { index: 1, kind: 'sound' as const, codec: 'ac3', language: 'fr', channels: 2, default: true, forced: false },
    { index: 2, kind: 'subtitles' as const, codec: 'dvd_subtitle', language: '', default: false, forced: true, bitmap: true },
  ],
  damage: ['It breaks off.'],
  notes: [],
} as unknown as Parameters<typeof factsText>[0];

describe('text for a terminal', () => {
  it('tells the facts with shape, rate and tracks', () => {
    expect(factsText(facts).split('\n')).toEqual([
      'File            tape.mpg',
      'SHA-256         ab12',
      'Size            1000 bytes',
      'Format          mpeg, mpeg2video, yuv420p',
      'Storage         720 x 480 px, pixel aspect 8:9',
      'Display         640 x 480, 4:3',
      'Rate            30000/1001 (29.970 frames a second)',
      'Duration        300 frames, 10.010 s',
      'Sound           ac3, fr, 2 channels, default',
      'Subtitles       dvd_subtitle, no language, forced, pictures',
      'Damage          It breaks off.',
    ]);
  });

  it('leaves out of a still what only moves', () => {
    const text = factsText({ ...facts, kind: 'still', tracks: [], damage: [], stream: streamInfo({ frames: 1 }) });
    expect(text).not.toMatch(/Rate|Duration|Sound/);
  });

  it('tells findings and plans line by line, steps after the size they meet', () => {
    expect(conditionText({ findings: [{ name: 'Grain', reading: 'strong', detail: '12 codes' }] } as never)).toBe(
      'Grain           strong (12 codes)',
    );
    const plan = readPlan({
      format: 'wairetic-plan',
      version: 2,
      steps: [
        { treatment: 'grain', on: false, settings: {} },
        { treatment: 'upscale', on: true, settings: { target: '1080p' } },
        { treatment: 'upscale', on: true, settings: { target: 'factor', factor: 0.5 } },
      ],
    });
    expect(planText(plan, ntsc).split('\n')).toEqual(['Grain           off', 'Upscale         1440 × 1080', 'Upscale         720 × 540']);
  });
});

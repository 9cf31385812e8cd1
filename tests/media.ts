import { execFileSync } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { crc32 } from 'node:zlib';
import sharp from 'sharp';

/** Small made-up files for tests, drawn by ffmpeg and sharp. */

/** What ffmpeg says on its standard output. */
export const ffmpeg = (...args: string[]): string => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]).toString();

/** 480i-like MPEG-2 in Matroska: moving pattern with noise, two sound tracks in two languages. */
export function makeInterlaced(file: string, seconds: number, size = '352x240'): void {
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    `testsrc2=size=${size}:rate=60000/1001:duration=${seconds}`,
    '-f',
    'lavfi',
    '-i',
    `sine=440:duration=${seconds}`,
    '-f',
    'lavfi',
    '-i',
    `sine=660:duration=${seconds}`,
    '-vf',
    'noise=alls=9:allf=t:all_seed=5,interlace=scan=tff:lowpass=off,setsar=10/11',
    '-map',
    '0',
    '-map',
    '1',
    '-map',
    '2',
    '-c:v',
    'mpeg2video',
    '-flags',
    '+ildct+ilme',
    '-b:v',
    '4M',
    '-pix_fmt',
    'yuv420p',
    '-c:a',
    'ac3',
    '-b:a',
    '96k',
    '-metadata:s:a:0',
    'language=eng',
    '-metadata:s:a:1',
    'language=fre',
    '-disposition:a:1',
    'default',
    '-disposition:a:0',
    '0',
    file,
  );
}

/** A folder of what a restorer's client hands over: good files of several kinds, and bad ones. */
export async function makeMixedFolder(folder: string): Promise<void> {
  mkdirSync(path.join(folder, 'within'), { recursive: true });
  const at = (name: string): string => path.join(folder, name);
  const drawn = sharp({
    create: { width: 120, height: 90, channels: 3, background: '#a08860', noise: { type: 'gaussian', mean: 120, sigma: 20 } },
  });
  await drawn.clone().jpeg().toFile(at('print.jpg'));
  await drawn.clone().webp().toFile(at('within/web picture.webp'));
  await drawn.clone().png().toFile(at('scan.png'));
  const deep = Uint16Array.from({ length: 80 * 60 * 3 }, (_, i) => (i * 7919) % 65536);
  await sharp(deep, { raw: { width: 80, height: 60, channels: 3 } })
    .toColourspace('rgb16')
    .tiff({ compression: 'deflate' })
    .toFile(at('deep.tif'));
  ffmpeg('-i', at('scan.png'), at('old.bmp'));
  makeInterlaced(at('clip.mkv'), 1, '176x144');
  ffmpeg('-f', 'lavfi', '-i', 'testsrc2=size=160x120:rate=25:duration=0.6', '-c:v', 'libx264', '-pix_fmt', 'yuv420p', at('phone.mp4'));
  writeFileSync(at('empty.jpg'), '');
  writeFileSync(at('letter.txt'), 'Dear restorer, here are the pictures.\n');
  writeFileSync(at('cut off.png'), (await drawn.clone().png().toBuffer()).subarray(0, 900));
  writeFileSync(
    at('twin.jpg'),
    await sharp(at('print.jpg'))
      .toBuffer()
      .then(() => execFileSync('cat', [at('print.jpg')])),
  );
  writeFileSync(at('huge.png'), hugePng());
}

/** A PNG header that says 100,000 x 100,000 pixels. */
function hugePng(): Buffer {
  const chunk = Buffer.alloc(25);
  chunk.writeUInt32BE(13, 0);
  chunk.write('IHDR', 4);
  chunk.writeUInt32BE(100_000, 8);
  chunk.writeUInt32BE(100_000, 12);
  chunk.set([8, 2, 0, 0, 0], 16);
  chunk.writeUInt32BE(crc32(chunk.subarray(4, 21)), 21);
  const data = Buffer.from('0000000449444154789c030000000000', 'hex');
  data.writeUInt32BE(crc32(data.subarray(4, 12)), 12);
  return Buffer.concat([Buffer.from('89504e470d0a1a0a', 'hex'), chunk, data, Buffer.alloc(200)]);
}

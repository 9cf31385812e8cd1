import { execFileSync } from 'node:child_process';
import { openSync, closeSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { addGrain } from './faults';
import { encodeFrames, ffmpeg, interlacedMpeg2 } from './encode';
import { loadPlate, look, place, textRaster, weave, type Raster } from './raster';
import { Truth } from './truth';

const SECONDS = 7;
const FIELDS = Math.round((SECONDS * 60000) / 1001);
const SIZE = { width: 720, height: 480 };

interface Words {
  voice: string;
  language: string;
  title: string;
  spoken: string;
  lines: [number, number, string][];
}

const WORDS: Words[] = [
  {
    voice: 'en',
    language: 'eng',
    title: 'English',
    spoken: 'The regatta at Pellow Quay. The red boat takes the lead before the harbour wall.',
    lines: [
      [0.5, 2.2, 'The regatta at Pellow Quay.'],
      [2.6, 6.4, 'The red boat takes the lead\nbefore the harbour wall.'],
    ],
  },
  {
    voice: 'fr',
    language: 'fre',
    title: 'Français',
    spoken: 'Les régates de Pellow Quay. Le bateau rouge passe en tête devant le quai.',
    lines: [
      [0.5, 2.2, 'Les régates de Pellow Quay.'],
      [2.6, 6.4, 'Le bateau rouge passe en tête\ndevant le quai.'],
    ],
  },
];

interface Subtitles {
  language: string;
  title: string;
  lines: Words['lines'];
  /** What is written in the picture, for those who do not read its language: boxed, at the top, always shown. */
  forced?: boolean;
}

/** What is spoken, in both languages, and what is written. */
const SUBTITLES: Subtitles[] = [
  ...WORDS.map(({ language, title, lines }) => ({ language, title, lines })),
  { language: 'fre', title: 'Inscriptions', lines: [[0.2, 2.9, 'Régates de Pellow Quay']], forced: true },
];

/** One field's moment: the camera follows a boat along the harbour. */
function moment(harbour: Raster, boat: Raster, title: Raster, t: number): Raster {
  const picture = look(
    harbour,
    { x: 560 + 92 * t, y: 430 + 4 * Math.sin(t * 1.7), height: 640, turn: 0.004 * Math.sin(t * 2.1) },
    SIZE.width,
    SIZE.height,
    4 / 3,
  );
  place(picture, boat, 90 + 78 * t, 452 + 5 * Math.sin(t * 2.4), 300, 9 / 8);
  if (t < 3) place(picture, title, 360, 96, title.height, 9 / 8);
  return picture;
}

function* frames(harbour: Raster, boat: Raster, title: Raster, truth: Truth): Generator<Raster> {
  for (let n = 0; n < FIELDS - 1; n += 2) {
    const [top, bottom] = [n, n + 1].map((f) => truth.take(moment(harbour, boat, title, (f * 1001) / 60000)));
    const woven = weave(top, bottom);
    addGrain(woven, 9000 + n, 6, 3);
    yield woven;
  }
}

/** A disc's title: interlaced MPEG-2, narration in two languages, subtitles as pictures in both. */
export async function makeDisc(plates: string, work: string, output: string, truths: string): Promise<void> {
  const truth = new Truth();
  const harbour = await loadPlate(path.join(plates, 'harbour.png')),
    boat = await loadPlate(path.join(plates, 'boat.png'), 0.6);
  const title = await textRaster('Pellow Quay Regatta', 44, 'DejaVu Serif');
  const sounds = WORDS.map((w) => {
    const wav = path.join(work, `${w.voice}.wav`);
    execFileSync('espeak-ng', ['-v', w.voice, '-s', '140', '-w', wav, w.spoken]);
    return wav;
  });
  const programme = path.join(work, 'programme.vob');
  const bed = `anoisesrc=color=brown:amplitude=0.12:duration=${SECONDS}:seed=4`;
  const mix = 'amix=inputs=2:duration=longest,aformat=channel_layouts=stereo:sample_rates=48000';
  await encodeFrames(
    frames(harbour, boat, title, truth),
    SIZE,
    '30000/1001',
    [...sounds.flatMap((s) => ['-i', s]), '-f', 'lavfi', '-i', bed],
    [
      '-filter_complex',
      [
        '[3:a]asplit[b0][b1]',
        ...sounds.map((_, i) => `[${i + 1}:a]adelay=500,apad,atrim=0:${SECONDS}[v${i}];[v${i}][b${i}]${mix}[a${i}]`),
      ].join(';'),
      ...['-map', '0:v', '-map', '[a0]', '-map', '[a1]'],
      ...interlacedMpeg2({ rate: '3600k', most: '7000k', keyEvery: 15, pixelAspect: '8/9', colour: 'smpte170m', transfer: 'smpte170m' }),
      '-bf',
      '2',
      '-c:a',
      'ac3',
      '-b:a',
      '128k',
      '-f',
      'dvd',
      '-t',
      String(SECONDS),
      programme,
    ],
  );
  await truth.write(truths, output, '60000/1001', '8/9');
  const chapters = path.join(work, 'chapters.txt');
  writeFileSync(chapters, chapterText());
  let subtitled = programme;
  for (const [stream, track] of SUBTITLES.entries()) subtitled = await addSubtitles(subtitled, stream, track, work);
  ffmpeg(
    '-probesize',
    '50M',
    '-analyzeduration',
    '20M',
    '-fflags',
    '+genpts',
    '-i',
    subtitled,
    ...['-f', 'ffmetadata', '-i', chapters, '-map_chapters', '1'],
    '-map',
    '0:v',
    '-map',
    '0:a',
    '-map',
    '0:s',
    '-c',
    'copy',
    ...WORDS.flatMap((w, i) => [`-metadata:s:a:${i}`, `language=${w.language}`, `-metadata:s:a:${i}`, `title=${w.title}`]),
    ...SUBTITLES.flatMap((s, i) => [
      ...[`-metadata:s:s:${i}`, `language=${s.language}`, `-metadata:s:s:${i}`, `title=${s.title}`],
      ...[`-disposition:s:${i}`, s.forced ? 'forced' : s.language === 'fre' ? 'default' : '0'],
    ]),
    '-disposition:a:0',
    'default',
    '-disposition:a:1',
    '0',
    output,
  );
}

const CHAPTERS: [number, number, string][] = [
  [0, 2.4, 'The regatta'],
  [2.4, SECONDS, 'Before the harbour wall'],
];

/** The chapters as ffmpeg reads them. */
const chapterText = (): string =>
  `;FFMETADATA1\n${CHAPTERS.map(([from, to, title]) => `[CHAPTER]\nTIMEBASE=1/1000\nSTART=${from * 1000}\nEND=${to * 1000}\ntitle=${title}\n`).join('')}`;

/** Puts a track of drawn subtitles into a programme stream. */
async function addSubtitles(input: string, stream: number, track: Subtitles, work: string): Promise<string> {
  const spus: string[] = [];
  const top = track.forced ? 52 : 400;
  const style = track.forced ? 'fill="#ff0"' : 'fill="#fff" stroke="#000" stroke-width="4" paint-order="stroke"';
  for (const [i, [from, to, text]] of track.lines.entries()) {
    const file = path.join(work, `sub-${stream}-${i}.png`);
    const lines = text
      .split('\n')
      .map((line, k) => `<text x="360" y="${top + k * 32}" text-anchor="middle">${line}</text>`)
      .join('');
    const box = track.forced
      ? `<rect x="${360 - 8 * text.length}" y="${top - 30}" width="${16 * text.length}" height="42" fill="#000"/>`
      : '';
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="720" height="480">${box}<g font-family="DejaVu Sans" font-size="26" ${style}>${lines}</g></svg>`;
    await sharp(Buffer.from(svg)).png({ palette: true, colours: 4, dither: 0 }).toFile(file);
    const time = (s: number): string => `00:00:0${Math.floor(s)}.${String(Math.round((s % 1) * 100)).padStart(2, '0')}`;
    spus.push(`<spu start="${time(from)}" end="${time(to)}" image="${file}" ${track.forced ? 'force="yes" ' : ''}/>`);
  }
  const list = path.join(work, `subs-${stream}.xml`),
    output = path.join(work, `with-${stream}.vob`);
  writeFileSync(list, `<subpictures format="NTSC"><stream>${spus.join('')}</stream></subpictures>`);
  const from = openSync(input, 'r'),
    to = openSync(output, 'w');
  execFileSync('spumux', ['-s', String(stream), '-m', 'dvd', list], { stdio: [from, to, 'pipe'] });
  closeSync(from);
  closeSync(to);
  return output;
}

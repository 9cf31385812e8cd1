import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type About, toldDate } from '../shared/about';
import type { Place } from '../shared/maps/place';
import { MediaError, runTool } from './tools';

export interface MetadataRequest {
  /** A still or an MP4 that is changed in place. */
  file: string;
  /** Where metadata that the file shall keep comes from. */
  source?: string;
  about: About;
  /** Who is where in the picture; none where it is not to be told. */
  people?: PlacedPeople;
  /** What was done to the picture, in words. */
  done: string;
  /** Program and version. */
  program: string;
}

/** People with their faces' places, in fractions of the picture. */
export interface PlacedPeople {
  /** Size of the picture, in pixels. */
  width: number;
  height: number;
  faces: { name: string; place: Place }[];
}

/** Endings of files that hold EXIF, IPTC-IIM and XMP; the others hold XMP, and EXIF where they are stills. */
const HOLDS_IPTC = /\.(jpe?g|tiff?)$/i,
  HOLDS_EXIF = /\.(jpe?g|tiff?|png|webp|avif)$/i;

/** What people tell and what was done, as tags of a Matroska file by their names (RFC 9559, and the registry of Matroska tags). */
export function matroskaTags({ about, done, program }: Pick<MetadataRequest, 'about' | 'done' | 'program'>): Record<string, string> {
  const told = toldDate(about.date);
  const tags = {
    title: about.title,
    KEYWORDS: about.people.join(', '),
    DATE_RECORDED: told?.exact ? about.date : (told?.year ?? ''),
    RECORDING_LOCATION: about.place,
    COPYRIGHT: about.rights,
    SUMMARY: [told?.exact ? '' : about.date, about.caption].filter(Boolean).join('\n'),
    COMMENT: [program, done].filter(Boolean).join('\n'),
  };
  return Object.fromEntries(Object.entries(tags).filter(([, value]) => value));
}

/** Seconds ExifTool may take: it writes a large TIFF anew. */
const LIMIT_SECONDS = 600;

/**
 * What a source's metadata says of its pixels, which are other pixels in the file: how they are stored, turned and coloured, smaller copies of them,
 * and what only the camera's maker reads, which points into the file it was written in.
 */
const NOT_KEPT = [
  ...[
    'ICC_Profile:all',
    'IFD1:all',
    'SubIFD:all',
    'MakerNotes:all',
    'MPF:all',
    'Photoshop:all',
    'XMP-crs:all',
    'XMP-tiff:all',
    'XMP-xmpMM:all',
  ],
  ...['Orientation', 'XResolution', 'YResolution', 'ResolutionUnit', 'ColorSpace', 'ExifImageWidth', 'ExifImageHeight', 'PreviewImage'],
  ...[
    'ThumbnailImage',
    'XMP-xmp:Thumbnails',
    'XMP-exif:PixelXDimension',
    'XMP-exif:PixelYDimension',
    'XMP-exif:ColorSpace',
    'InteropIndex',
  ],
];

/**
 * Writes metadata into a file (EXIF 3.0, IPTC-IIM 4.2, XMP with IPTC's extension 2021.1): what its source had, what people tell of it and what was
 * done. Text is UTF-8 everywhere.
 * @throws MediaError when it cannot be written; the file is then as it was.
 */
export async function writeMetadata({ file, source, about, people, done, program }: MetadataRequest): Promise<void> {
  const copied = source ? ['-tagsFromFile', source, '-all:all', ...NOT_KEPT.map((tag) => `--${tag}`)] : [];
  await change(file, [...copied, ...tags(file, about, done, program), ...(people?.faces.length ? regionTags(people) : [])]);
}

/** Writes metadata into a file that is of use without it too. @returns why it was not written, in words; nothing where it was. */
export async function tryMetadata(request: MetadataRequest): Promise<string[]> {
  try {
    await writeMetadata(request);
    return [];
  } catch (error) {
    return [(error as Error).message];
  }
}

/** Tags a TIFF, PNG or JPEG with an ICC profile; its samples stay what they are. @throws MediaError when it cannot be written. */
export async function tagProfile(file: string, profile: Buffer): Promise<void> {
  const folder = await mkdtemp(path.join(tmpdir(), 'wairetic-profile-'));
  try {
    const icc = path.join(folder, 'profile.icc');
    await writeFile(icc, profile);
    await change(file, [`-ICC_Profile<=${icc}`]);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Has ExifTool change a file in place. */
async function change(file: string, changes: string[]): Promise<void> {
  const args = [
    // Films of many hours are larger than 2 GB.
    ...['-api', 'LargeFileSupport=1'],
    ...['-charset', 'filename=UTF8', '-charset', 'iptc=UTF8', '-charset', 'exif=UTF8', '-E', '-m', '-q', '-overwrite_original'],
    ...changes,
    file,
  ];
  const { exiftoolPath } = await import('exiftool-vendored');
  const { code, stderr } = await runTool('perl', [await exiftoolPath(), '-@', '-'], { input: args.join('\n'), limit: LIMIT_SECONDS });
  if (code !== 0) throw new MediaError(`The metadata could not be written: ${complaint(stderr)}.`);
}

const complaint = (stderr: string): string =>
  stderr
    .trim()
    .split('\n')[0]
    .replace(/^(Error|Warning): /, '')
    .replace(/ - \S*$/, '') || 'no reason given';

/** A value on one line, as `-E` reads it. */
const oneLine = (text: string): string => text.replace(/&/g, '&amp;').replace(/\r?\n|\r/g, '&#xa;');

/** Assignments of what is told; what is not told stays as the source had it. */
function tags(file: string, about: About, done: string, program: string): string[] {
  const { title, people, place, rights, caption } = about;
  const list: [value: string, names: string[], kinds?: { exif?: string; iptc?: string }][] = [
    [title, ['XMP-dc:Title'], { iptc: 'ObjectName' }],
    [caption, ['XMP-dc:Description'], { exif: 'ImageDescription', iptc: 'Caption-Abstract' }],
    [place, ['XMP-iptcCore:Location'], { iptc: 'Sub-location' }],
    [rights, ['XMP-dc:Rights'], { exif: 'Copyright', iptc: 'CopyrightNotice' }],
    [done, ['XMP-photoshop:History']],
    [program, ['XMP-xmp:CreatorTool'], { exif: 'Software' }],
  ];
  const exif = HOLDS_EXIF.test(file),
    iptc = HOLDS_IPTC.test(file);
  const written = list.flatMap(([value, names, kinds]) =>
    value
      ? [...names, ...(exif && kinds?.exif ? [`EXIF:${kinds.exif}`] : []), ...(iptc && kinds?.iptc ? [`IPTC:${kinds.iptc}`] : [])].map(
          (name) => `-${name}=${oneLine(value)}`,
        )
      : [],
  );
  if (iptc) written.push('-IPTC:CodedCharacterSet=UTF8');
  if (people.length) written.push('-XMP-iptcExt:PersonInImage=', ...people.map((name) => `-XMP-iptcExt:PersonInImage=${oneLine(name)}`));
  return [...written, ...dateTags(about.date, iptc)];
}

/** A text within a structure, where what holds structures together stands for itself (ExifTool's own escape). */
const inStructure = (text: string): string => oneLine(text).replace(/[|,{}[\]]/g, '|$&');

/** Where faces are, as regions (Metadata Working Group, Guidelines for Handling Image Metadata 2.0, 5.9): the middle and the size, of the picture. */
function regionTags({ width, height, faces }: PlacedPeople): string[] {
  const short = (v: number): string => v.toFixed(5);
  const regions = faces.map(({ name, place: { x, y, width: w, height: h } }) => {
    const area = `{X=${short(x + w / 2)},Y=${short(y + h / 2)},W=${short(w)},H=${short(h)},Unit=normalized}`;
    return `{Area=${area},Name=${inStructure(name)},Type=Face}`;
  });
  return [`-XMP-mwg-rs:RegionInfo={AppliedToDimensions={W=${width},H=${height},Unit=pixel},RegionList=[${regions.join(',')}]}`];
}

/** The date as far as it is sure, and its words beside it: no hour is made up, which EXIF's dates would ask for. */
function dateTags(date: string, iptc: boolean): string[] {
  if (!date) return [];
  const told = toldDate(date);
  const words = `-XMP-dc:Coverage=${oneLine(date)}`;
  if (!told) return [words];
  const { year, month, day } = told;
  const parts = [year, month, day].filter(Boolean);
  return [
    ...(told.exact ? [] : [words]),
    `-XMP-photoshop:DateCreated=${parts.join(':')}`,
    ...(iptc ? [`-IPTC:DateCreated=${year}:${month ?? '00'}:${day ?? '00'}`] : []),
  ];
}

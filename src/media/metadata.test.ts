import { execFileSync } from 'node:child_process';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { exiftoolPath } from 'exiftool-vendored';
import exifr from 'exifr';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type About, NOTHING_TOLD } from '../shared/about';
import { tryMetadata, writeMetadata } from './metadata';
import { runTool } from './tools';

const about: About = {
  title: 'Ναυπηγείο, лето',
  people: ['山田花子', 'Ruth Ågren', 'ფატი'],
  date: 'about 1921',
  place: 'Πειραιάς, third yard',
  rights: '© Ågren family',
  caption: 'First line\nsecond \\ line, "quoted", $x, @y &amp; &, 港',
};
const done = 'Crop: 3 px at the left\nGrain: σ 4';
const program = 'Wairetic 0.1.0';

let folder: string, exiftool: string;
beforeAll(async () => {
  folder = await mkdtemp(path.join(tmpdir(), 'metadata-'));
  exiftool = await exiftoolPath();
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const still = async (name: string): Promise<string> => {
  const file = path.join(folder, name);
  await sharp({ create: { width: 64, height: 48, channels: 3, background: '#886644' } })
    .withDensity(300)
    .toFile(file);
  return file;
};
/** What ExifTool reads of a file, by `group:tag`. */
const read = (file: string): Record<string, unknown> =>
  (JSON.parse(execFileSync(exiftool, ['-j', '-G1', '-charset', 'iptc=UTF8', file]).toString()) as Record<string, unknown>[])[0];

describe('metadata', () => {
  it.each(['where.jpg', 'where.tif', 'where.png'])('of %s says who is where', async (name) => {
    const file = await still(name);
    const faces = [
      { name: 'Ruth {née Marrow}, [1922] | Ågren', place: { x: 0.25, y: 0.125, width: 0.1, height: 0.2 } },
      { name: '山田花子', place: { x: 0.6, y: 0.5, width: 0.2, height: 0.25 } },
    ];
    await writeMetadata({ file, about, done, program, people: { width: 64, height: 48, faces } });
    expect(read(file)).toMatchObject({
      'XMP-mwg-rs:RegionName': faces.map(({ name: said }) => said),
      'XMP-mwg-rs:RegionAreaX': [0.3, 0.7],
      'XMP-mwg-rs:RegionAreaY': [0.225, 0.625],
      'XMP-mwg-rs:RegionAreaW': [0.1, 0.2],
      'XMP-mwg-rs:RegionAppliedToDimensionsW': 64,
      'XMP-mwg-rs:RegionType': ['Face', 'Face'],
    });
  });

  it.each(['a.jpg', 'a.tif', 'a.png', 'a.webp', 'a.avif'])('of %s is read again by other programs, in every script', async (name) => {
    const file = await still(name);
    const before = await sharp(file).raw().toBuffer();
    await writeMetadata({ file, about, done, program });
    const tags = read(file);
    expect(tags).toMatchObject({
      'XMP-dc:Title': about.title,
      'XMP-dc:Rights': about.rights,
      'XMP-iptcCore:Location': about.place,
      'XMP-iptcExt:PersonInImage': about.people,
      'XMP-dc:Coverage': 'about 1921',
      'XMP-photoshop:DateCreated': 1921,
      'XMP-xmp:CreatorTool': program,
      'IFD0:Software': program,
      'IFD0:Copyright': about.rights,
    });
    expect(read(file)['XMP-dc:Description']).toBe(about.caption);
    if (/jpg|tif/.test(name))
      expect(tags).toMatchObject({
        'IPTC:ObjectName': about.title,
        'IPTC:Sub-location': about.place,
        'IPTC:CopyrightNotice': about.rights,
      });
    // The picture itself is what it was.
    expect(await sharp(file).raw().toBuffer()).toEqual(before);
    const others = [(await sharp(await readFile(file)).metadata()).xmp?.toString() ?? ''];
    // exifr reads no WebP, and of AVIF no XMP.
    if (!/webp|avif/.test(name)) others.push(JSON.stringify(await exifr.parse(await readFile(file), { xmp: true, tiff: true })));
    for (const other of others) for (const told of [about.title, about.place, ...about.people]) expect(other).toContain(told);
  });

  it('of a source is kept, but for what it says of its own pixels; what is told replaces what it said', async () => {
    const source = await still('source.jpg');
    const given = ['-IFD0:Artist=Lichtbild Ågren', '-XMP-dc:Title=Scan 17', '-XMP-iptcExt:PersonInImage=Nobody', '-IFD0:Orientation#=6'];
    const more = ['-IPTC:Keywords=harbour', '-ExifIFD:DateTimeOriginal=2019:05:02 10:11:12', '-IFD0:XResolution=72', '-GPSLatitude=37.9'];
    execFileSync(exiftool, ['-overwrite_original', ...given, ...more, '-GPSLatitudeRef=N', source]);
    const file = await still('result.tif');
    await writeMetadata({ file, source, about: { ...about, title: '' }, done, program });
    const tags = read(file);
    expect(tags).toMatchObject({
      'IFD0:Artist': 'Lichtbild Ågren',
      'XMP-dc:Title': 'Scan 17',
      'XMP-iptcExt:PersonInImage': about.people,
      'IPTC:Keywords': 'harbour',
      'ExifIFD:DateTimeOriginal': '2019:05:02 10:11:12',
      'IFD0:XResolution': 300,
    });
    expect(tags['IFD0:Orientation'] ?? 'Horizontal (normal)').toBe('Horizontal (normal)');
    expect(Object.keys(tags)).toContain('GPS:GPSLatitude');
  });

  it('of an access copy of a film is XMP', async () => {
    const file = path.join(folder, 'film.mp4');
    await runTool('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'testsrc=size=64x48:rate=5:duration=1', file]);
    await writeMetadata({ file, about: { ...about, date: '1921-07-14' }, done, program });
    expect(read(file)).toMatchObject({ 'XMP-dc:Title': about.title, 'XMP-photoshop:DateCreated': '1921:07:14' });
  });

  it('that cannot be written leaves the file as it was', async () => {
    const file = path.join(folder, 'broken.jpg');
    await runTool('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'testsrc=size=64x48:rate=5:duration=1', '-f', 'mp4', file]);
    const before = await readFile(file);
    await expect(writeMetadata({ file: path.join(folder, 'none.jpg'), about, done, program })).rejects.toThrow('could not be written');
    expect(await tryMetadata({ file: path.join(folder, 'none.jpg'), about, done, program })).toEqual([
      expect.stringContaining('The metadata could not be written'),
    ]);
    await writeMetadata({ file, about: NOTHING_TOLD, done: '', program: '' }).catch(() => undefined);
    expect((await readFile(file)).length).toBe(before.length);
  });
});

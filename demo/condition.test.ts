import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { examine } from '../src/core';
import type { FindingId } from '../src/core/condition/report';
import { openSource } from '../src/media';
import { probe } from '../src/media/probe';

/** What was done to an item and the report can measure, as the report should word it; and what its file's facts should say. */
interface Told {
  findings?: Partial<Record<FindingId, RegExp>>;
  damage?: RegExp;
  notes?: RegExp;
}

// What the report is unsure of it says with “perhaps”: fine grain under a lens's softness or a JPEG, and on cloth, hair and paper.
const ITEMS: Record<string, Told> = {
  'Edwin and Lilian, 1921.tif': { findings: { colour: /monochrome, toned/, grain: /^perhaps/ } },
  'Portrait of a child.tif': { findings: { grain: /^perhaps moderate, σ [5-8]/ } },
  'Launching day, 1948.jpg': { findings: { colour: /monochrome/, grain: /^perhaps (slight|moderate)/ } },
  'Cutting, launching day.jpg': { findings: { colour: /monochrome, toned/, focus: /softness/, halftone: /screen of 4\.3 px/ } },
  'Two on the quay.jpg': { findings: { colour: /in colour/, grain: /moderate/ } },
  'Christmas 1962.jpg': { findings: { colour: /in colour/, grain: /moderate/ } },
  'Janet and Peter, 1974.jpg': { findings: { colour: /in colour/, grain: /moderate, σ [5-8]/ } },
  'Slide 14, the harbour.jpg': { findings: { colour: /in colour/, grain: /moderate/, bars: /left \d+, right/ } },
  'Photo of a photo.jpg': { findings: { compression: /blocks strong/, focus: /softness/, grain: /slight/ } },
  'Three on the glass.jpg': { findings: { colour: /in colour/, grain: /^perhaps/ } },
  'Harbour cine film.mov': { findings: { fields: /^progressive/, colour: /monochrome/, grain: /moderate|strong/ } },
  'Regatta 1961, 16 mm.vob': { findings: { fields: /^telecined/, grain: /moderate|strong/ } },
  'Christmas Eve, camcorder.mpg': { findings: { fields: /^interlaced, top/, grain: /moderate|strong/, compression: /blocks/ } },
  'Cottage lane, tape 1.mpg': { findings: { fields: /^interlaced, bottom/ } },
  'Cottage lane, tape 3.mpg': { findings: { fields: /^interlaced, top/, grain: /slight|moderate/, compression: /blocks/ } },
  'Regatta disc, title 1.mkv': { findings: { fields: /^interlaced, top/, compression: /blocks/ } },
  'The skipper, drawn film.vob': { findings: { fields: /^telecined/, grain: /none/, compression: /blocks/ } },
  'Harbour, web clip.mp4': { findings: { fields: /^progressive/, compression: /coarse|blocks/ } },
  'Cottage lane, cut off.mpg': { damage: /cut off/ },
  'Regatta disc, late sound.mkv': { notes: /0\.4\d s after the picture|0\.39 s after the picture/ },
};

describe('the condition report of the demo archive', () => {
  it.each(Object.entries(ITEMS))('names what is wrong with %s', async (name, told) => {
    const file = path.join(import.meta.dirname, 'media', name);
    const { facts, ...probed } = await probe(file);
    const source = await openSource(file, name, { facts, ...probed }, facts.stream);
    const { findings } = await examine(source).finally(() => source.close?.());
    for (const [id, words] of Object.entries(told.findings ?? {})) expect(findings.find((f) => f.id === id)?.reading).toMatch(words);
    expect(facts.damage.join()).toMatch(told.damage ?? /^$/);
    expect(facts.notes.join()).toMatch(told.notes ?? /^$/);
  });
});

/** Quality and speed of the core against ffmpeg's own filters. `./run bench [part ...]`; each part keeps its rows in the table. */
import { mkdtempSync, rmSync } from 'node:fs';
import { cpus, tmpdir } from 'node:os';
import path from 'node:path';
import { applicationMemory, proofLatency } from './application';
import { deinterlaceCombs } from './combs';
import { deinterlaceQuality, deinterlaceSpeed } from './deinterlace';
import { compressionQuality, compressionSpeed } from './coding';
import { coloursGuessed } from './colour';
import { coloursOfFilms } from './colourFilm';
import { coloursHinted } from './colourHints';
import { deblurring } from './deblur';
import { demoItems } from './demo';
import { enlargeQuality } from './enlarge';
import { facesRestored } from './faces';
import { facesByReference } from './facesReference';
import { facesInTime } from './facesSpeed';
import { facesByOtherYears } from './facesYears';
import { facesInFilms } from './facesFilm';
import { facesFound } from './facesFound';
import { marksKept } from './facesKept';
import { faults } from './faults';
import { fuzzing } from './fuzz';
import { grainClips, grainSpeed, grainStanding, grainStills } from './grain';
import { doNoHarm } from './harm';
import { doNoHarmClips } from './harmClips';
import { handingOver } from './handing';
import { halftoneJoined } from './halftone';
import { interfaceFigures } from './interface';
import { dirtFound, dirtMended, objectsRemoved } from './prints';
import { dirtUntouched } from './printsUntouched';
import { lookalikes } from './lookalikes';
import { silveringLifted } from './silvering';
import { largeScans } from './large';
import { papersFound } from './papers';
import { peopleGrouped } from './people';
import { sliders } from './sliders';
import { subjectsFound } from './subject';
import { tones } from './tone';
import { wholePlan } from './wholePlan';
import { calibration } from './sure';
import { keepPart, passes, printRow, type Row } from './table';

const PARTS: Record<string, (work: string) => Row[] | Promise<Row[]>> = {
  'deinterlace-quality': deinterlaceQuality,
  'deinterlace-combs': deinterlaceCombs,
  'deinterlace-speed': deinterlaceSpeed,
  'grain-stills': grainStills,
  'grain-clips': grainClips,
  'grain-standing': grainStanding,
  'grain-speed': grainSpeed,
  compression: compressionQuality,
  'compression-speed': compressionSpeed,
  enlarge: enlargeQuality,
  'dirt-found': dirtFound,
  'dirt-mended': dirtMended,
  'dirt-untouched': dirtUntouched,
  'dirt-lookalikes': lookalikes,
  silvering: silveringLifted,
  removal: objectsRemoved,
  halftone: halftoneJoined,
  deblur: deblurring,
  tone: tones,
  colour: coloursGuessed,
  'colour-hints': coloursHinted,
  'colour-film': coloursOfFilms,
  papers: papersFound,
  subjects: subjectsFound,
  'faces-found': facesFound,
  'faces-kept': marksKept,
  faces: facesRestored,
  'faces-film': facesInFilms,
  'faces-speed': facesInTime,
  'faces-reference': facesByReference,
  'faces-years': facesByOtherYears,
  people: peopleGrouped,
  'handing-over': handingOver,
  'large-scans': largeScans,
  'whole-plan': wholePlan,
  harm: doNoHarm,
  'harm-clips': doNoHarmClips,
  sure: calibration,
  demo: demoItems,
  proofs: proofLatency,
  memory: applicationMemory,
  sliders,
  interface: interfaceFigures,
  faults,
  fuzz: fuzzing,
};

/** Parts that take hours, and run when they are asked for by name. */
const LONG = ['faults', 'fuzz'];

const docs = (name: string): string => path.resolve(import.meta.dirname, '../docs', name);
const asked = process.argv.slice(2);
const unknown = asked.find((name) => !(name in PARTS));
if (unknown) {
  process.stderr.write(`bench: there is no part "${unknown}"; there are ${Object.keys(PARTS).join(', ')}\n`);
  process.exit(2);
}
const work = mkdtempSync(path.join(tmpdir(), 'wairetic-bench-'));
const rows: Row[] = [];
try {
  for (const [name, part] of Object.entries(PARTS)) {
    if (asked.length ? !asked.includes(name) : LONG.includes(name)) continue;
    const measured = await part(work);
    measured.forEach(printRow);
    rows.push(...measured);
    keepPart(name, measured, `${cpus().length} cores`, Object.keys(PARTS), docs('benchmarks.json'), docs('benchmarks.md'));
  }
} finally {
  rmSync(work, { recursive: true });
}
process.exit(rows.every(passes) ? 0 : 1);

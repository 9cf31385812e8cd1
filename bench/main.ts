/** Quality and speed of the core against ffmpeg's own filters: one table. `./run bench [part ...]`; all parts keep the table. */
import { mkdtempSync, rmSync } from 'node:fs';
import { cpus, tmpdir } from 'node:os';
import path from 'node:path';
import { applicationMemory, proofLatency } from './application';
import { deinterlaceQuality, deinterlaceSpeed } from './deinterlace';
import { compressionQuality } from './coding';
import { enlargeQuality } from './enlarge';
import { grainClips, grainSpeed, grainStills } from './grain';
import { wholePlan } from './wholePlan';
import { passes, printRow, writeTable, type Row } from './table';

const PARTS: Record<string, (work: string) => Row[] | Promise<Row[]>> = {
  'deinterlace-quality': deinterlaceQuality,
  'deinterlace-speed': deinterlaceSpeed,
  'grain-stills': grainStills,
  'grain-clips': grainClips,
  'grain-speed': grainSpeed,
  compression: compressionQuality,
  enlarge: enlargeQuality,
  'whole-plan': wholePlan,
  proofs: proofLatency,
  memory: applicationMemory,
};

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
    if (asked.length && !asked.includes(name)) continue;
    for (const row of await part(work)) {
      printRow(row);
      rows.push(row);
    }
  }
} finally {
  rmSync(work, { recursive: true });
}
if (!asked.length) writeTable(rows, path.resolve(import.meta.dirname, '../docs/benchmarks.md'), `${cpus().length} cores`);
process.exit(rows.every(passes) ? 0 : 1);

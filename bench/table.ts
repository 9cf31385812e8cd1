import { existsSync, readFileSync, writeFileSync } from 'node:fs';

/** One measured figure and what it must reach. */
export interface Row {
  group: string;
  what: string;
  /** As it is shown, with its unit. */
  shown: string;
  value?: number;
  /** Least or most allowed; none for a figure that is only told. */
  atLeast?: number;
  atMost?: number;
  /** Whether it is a time or a ratio of times, which machines that are shared make inexact. */
  timed?: boolean;
}

/** A time may miss its mark by this share and still count as noise. */
const NOISE = 0.1;

export function passes(row: Row): boolean {
  if (row.value === undefined) return true;
  const noise = row.timed ? NOISE : 0;
  if (row.atLeast !== undefined && row.value < row.atLeast * (1 - noise)) return false;
  return !(row.atMost !== undefined && row.value > row.atMost * (1 + noise));
}

interface Closeness {
  psnr: number;
  ssim: number;
}

/** Rows of one test: both choices, and what they gain over the best of the baselines; `fastAtLeast` where the fast one has a mark too. */
export function compare(
  group: string,
  what: string,
  ours: { best: Closeness; fast: Closeness },
  base: Closeness & { name: string },
  atLeast: number,
  fastAtLeast?: number,
): Row[] {
  const shown = (c: Closeness): string => `${c.psnr.toFixed(2)} dB, ${c.ssim.toFixed(4)}`;
  const marked = (name: 'fast' | 'best', least: number): Row => {
    const gain = ours[name].psnr - base.psnr;
    const signed = `${gain >= 0 ? '+' : ''}${gain.toFixed(2)}`;
    return { group, what: `${what}: ${name}`, shown: `${shown(ours[name])} (${signed})`, value: gain, atLeast: least };
  };
  const fast = fastAtLeast === undefined ? { group, what: `${what}: fast`, shown: shown(ours.fast) } : marked('fast', fastAtLeast);
  return [{ group, what: `${what}: ${base.name}`, shown: shown(base) }, fast, marked('best', atLeast)];
}

const wanted = (row: Row): string =>
  row.atLeast !== undefined ? `at least ${row.atLeast}` : row.atMost !== undefined ? `at most ${row.atMost}` : '';

export function printRow(row: Row): void {
  process.stdout.write(`${row.what.padEnd(52)} ${row.shown.padStart(26)}  ${wanted(row).padEnd(14)} ${passes(row) ? '' : 'MISSED'}\n`);
}

/** What a part of the bench last measured. */
interface Measured {
  /** Day of the run. */
  date: string;
  machine: string;
  rows: Row[];
}

const INTRODUCTION = `# Benchmarks

What \`./run bench\` last measured, part by part; each part's rows come from one run. Speeds are ratios against ffmpeg on the same clip
with the same number of threads in that run. The bench draws its own clips for deinterlacing and knows their truth; the
deinterlacer's thresholds were chosen on these same clips, so its gains there flatter it a little. Stills are eight held-out
photographs, moving clips are layers of held-out pictures (docs/networks.md).
`;

/** Keeps a part's rows beside those of the other parts, and writes the table of all as a document; \`parts\` in their order. */
export function keepPart(part: string, rows: Row[], machine: string, parts: string[], data: string, document: string): void {
  const all = existsSync(data) ? (JSON.parse(readFileSync(data, 'utf8')) as Record<string, Measured>) : {};
  all[part] = { date: new Date().toISOString().slice(0, 10), machine, rows };
  const known = Object.fromEntries(parts.filter((p) => p in all).map((p) => [p, all[p]]));
  writeFileSync(data, `${JSON.stringify(known, null, 1)}\n`);
  writeFileSync(document, `${INTRODUCTION}\n${Object.values(known).map(tableOf).join('\n')}`);
}

function tableOf({ date, machine, rows }: Measured): string {
  const groups = [...new Set(rows.map((r) => r.group))];
  return groups
    .map((group) => {
      const lines = rows
        .filter((r) => r.group === group)
        .map((r) => `| ${r.what} | ${r.shown} | ${wanted(r)} | ${passes(r) ? (wanted(r) ? 'met' : '') : '**missed**'} |`);
      return `## ${group}\n\n${date}, ${machine}.\n\n| | measured | wanted | |\n|---|---|---|---|\n${lines.join('\n')}\n`;
    })
    .join('\n');
}

import { writeFileSync } from 'node:fs';

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
}

/** Machines are shared: a ratio may miss its mark by this share and still count as noise. */
const NOISE = 0.1;

export function passes(row: Row): boolean {
  if (row.value === undefined) return true;
  if (row.atLeast !== undefined && row.value < row.atLeast - Math.abs(row.atLeast) * NOISE) return false;
  return !(row.atMost !== undefined && row.value > row.atMost * (1 + NOISE));
}

interface Closeness {
  psnr: number;
  ssim: number;
}

/** Rows of one test: both choices, and what they gain over the best of the baselines. */
export function compare(
  group: string,
  what: string,
  ours: { best: Closeness; fast: Closeness },
  base: Closeness & { name: string },
  atLeast: number,
): Row[] {
  const shown = (c: Closeness): string => `${c.psnr.toFixed(2)} dB, ${c.ssim.toFixed(4)}`;
  const gain = ours.best.psnr - base.psnr;
  return [
    { group, what: `${what}: ${base.name}`, shown: shown(base) },
    { group, what: `${what}: fast`, shown: shown(ours.fast) },
    {
      group,
      what: `${what}: best`,
      shown: `${shown(ours.best)} (${gain >= 0 ? '+' : ''}${gain.toFixed(2)})`,
      value: gain,
      atLeast,
    },
  ];
}

const wanted = (row: Row): string =>
  row.atLeast !== undefined ? `at least ${row.atLeast}` : row.atMost !== undefined ? `at most ${row.atMost}` : '';

export function printRow(row: Row): void {
  process.stdout.write(`${row.what.padEnd(52)} ${row.shown.padStart(26)}  ${wanted(row).padEnd(14)} ${passes(row) ? '' : 'MISSED'}\n`);
}

/** Keeps the whole table as a document. */
export function writeTable(rows: Row[], file: string, machine: string): void {
  const groups = [...new Set(rows.map((r) => r.group))];
  const text = groups
    .map((group) => {
      const lines = rows
        .filter((r) => r.group === group)
        .map((r) => `| ${r.what} | ${r.shown} | ${wanted(r)} | ${passes(r) ? (wanted(r) ? 'met' : '') : '**missed**'} |`);
      return `## ${group}\n\n| | measured | wanted | |\n|---|---|---|---|\n${lines.join('\n')}\n`;
    })
    .join('\n');
  writeFileSync(
    file,
    `# Benchmarks\n\nThe last full run of \`./run bench\`, ${new Date().toISOString().slice(0, 10)}, on ${machine}. Speeds are ratios against ffmpeg on the same\nclip with the same number of threads in the same run; the bench makes its own clips and knows their truth.\n\n${text}`,
  );
}

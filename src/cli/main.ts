import { execFile } from 'node:child_process';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { parseArgs, promisify } from 'node:util';
import { withMeasured } from '../archive';
import {
  applicationRoot,
  type ConditionReport,
  examine,
  type ExamineOptions,
  examineFields,
  isUserError,
  layOut,
  PlanError,
  monochromePlan,
  planWarnings,
  proposePlan,
  readPlan,
  type StreamInfo,
  withQuality,
} from '../core';
import type { About } from '../shared/about';
import { STILL_SPACES, type StillSpace } from '../shared/jobs';
import type { Plan } from '../shared/plan';
import { MediaError, openSource, type Probed, probePart, sha256File } from '../media';
import { checkOutput, damageIn, stillThreads, treatFile } from '../render';
import { withParts } from './laid';
import { queueCommand, verifyCommand } from './queue';
import { peopleCommand } from './people';
import { withReferences } from './references';
import { sheetCommand } from './sheet';
import { conditionText, factsText, planText } from './text';

const USAGE = `usage: wairetic inspect FILE [--part N] [--json] [--no-counts]
       wairetic propose FILE [--part N] [--quality fast|best] [--json]
       wairetic treat FILE --plan PLAN.json --out FILE [--part N] [--quality fast|best] [--from S] [--to S]
                       [--crop X,Y,W,H] [--lay FILE@X,Y,W,H ...] [--reference FILE[@X,Y] ...]
                       [--title T] [--person P ...] [--date D] [--place P] [--rights R] [--caption C] [--space S]
       wairetic queue [list | pause [JOB] | resume [JOB] | retry JOB | cancel JOB | move JOB PLACE
                       | hours FROM TO | threads N | memory GIB]
       wairetic sheet COLLECTION --out FILE.pdf|FILE.png [--page N]
       wairetic people COLLECTION [--json] [--films]
       wairetic verify
       wairetic serve [--port N]

inspect  facts and condition of a file; --no-counts is faster on large stills and does not look for faces
propose  the plan the measurements ask for
treat    runs a plan over a file; the ending of --out says the format:
         .mkv (lossless) or .mp4 for moving images, .tif, .png, .jpg, .webp or .avif for stills;
         --plan - reads the plan from standard input, --plan measured proposes it
         --quality sets all steps that offer a choice to one: best uses networks
         --part N takes one page or picture stream of a file with several, from 1
         --space source, srgb, display-p3 or wide is the colour space of a TIFF or PNG; the source's own at first
         --crop writes only that part of a still's result, in its pixels, to be worked on elsewhere;
         --lay lays a file into it there, such as a crop that comes back
         --reference has Faces restore somebody by another picture of them: the face that looks most like it, or the
         one at that place
         --title and the others are written into the output's metadata; the source's own is kept
queue    shows and steers the queue of the archive in WAIRETIC_HOME; hours, threads and memory take off
sheet    writes the contact sheet of a collection of that archive
people   tells who is in the pictures of a collection of that archive, and looks for them where nobody did;
         --films follows faces through the films too, which takes about as long as they last
verify   holds all originals and deliveries of that archive against their checksums
serve    starts the application

Exit codes: 0 done, 1 the work failed, 2 wrong use, 130 interrupted.
`;

class UsageError extends Error {}

async function inspected(
  file: string,
  part?: number,
  counts = true,
): Promise<{ probed: Probed; sha256: string; condition: ConditionReport }> {
  const probed = await probePart(file, part);
  return { probed, sha256: await sha256File(file), condition: await conditionOf(file, probed, { counts }) };
}

async function conditionOf(file: string, probed: Probed, how: ExamineOptions): Promise<ConditionReport> {
  const source = await openSource(file, file, probed);
  try {
    return await examine(source, how);
  } finally {
    source.close?.();
  }
}

async function inspect(file: string, json: boolean, part: number | undefined, counts: boolean): Promise<string> {
  const { probed, sha256, condition } = await inspected(file, part, counts);
  const facts = { fileName: file, sha256, ...probed.facts };
  return json ? JSON.stringify({ facts, condition }, null, 2) : `${factsText(facts)}\n${conditionText(condition)}`;
}

async function propose(file: string, json: boolean, quality: string | undefined, part: number | undefined): Promise<string> {
  const { probed, condition } = await inspected(file, part);
  const info = withMeasured(probed.facts.stream, condition.measurements);
  const plan = inQuality(proposePlan(condition, info), quality);
  return json ? JSON.stringify(plan, null, 2) : planText(plan, info);
}

/** @throws UsageError when the quality is none. */
function inQuality(plan: Plan, quality: string | undefined): Plan {
  if (quality === undefined) return plan;
  if (quality !== 'fast' && quality !== 'best') throw new UsageError(`--quality takes fast or best, not "${quality}"`);
  return withQuality(plan, quality);
}

/** The plan of a file as JSON that was looked over; its masks wait for the source. */
async function readPlanFile(name: string): Promise<unknown> {
  let text: string;
  try {
    text = name === '-' ? await readStandardInput() : await readFile(name, 'utf8');
  } catch {
    throw new UsageError(`the plan ${name} cannot be read`);
  }
  try {
    const given: unknown = JSON.parse(text);
    readPlan(given);
    return given;
  } catch (error) {
    if (error instanceof SyntaxError) throw new PlanError(`${name} is not JSON: ${error.message}.`);
    throw error;
  }
}

async function readStandardInput(): Promise<string> {
  const chunks: Buffer[] = [];
  for await (const chunk of process.stdin) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks).toString();
}

function seconds(value: string | undefined, name: string): number | undefined {
  if (value === undefined) return undefined;
  const number = Number(value);
  if (!Number.isFinite(number) || number < 0) throw new UsageError(`--${name} takes seconds, not "${value}"`);
  return number;
}

function partNumber(value: string | undefined, name = 'part'): number | undefined {
  if (value === undefined) return undefined;
  const number = Number(value);
  if (!Number.isInteger(number) || number < 1) throw new UsageError(`--${name} takes a number from 1, not "${value}"`);
  return number;
}

interface Treatable {
  probed: Probed;
  info: StreamInfo;
  plan: Plan;
  /** Where it was measured. */
  condition?: ConditionReport;
  threads?: ReturnType<typeof stillThreads>;
}

/** Pixels of a still that is measured beside its treatment; of a larger scan there is no room for another copy. */
const BESIDE_PIXELS = 40_000_000;

async function measuredPlan(file: string, output: string, part: number | undefined): Promise<Treatable> {
  const probed = await probePart(file, part);
  const { kind, stream } = probed.facts;
  await checkOutput(output, kind);
  const large = kind === 'still' && stream.width * stream.height > BESIDE_PIXELS;
  const threads = kind === 'still' && !large ? stillThreads(stream) : undefined;
  // Faces are left out: no proposal waits for them.
  const dirt = threads && (() => damageIn(threads, file, probed));
  const condition = large ? await measuredApart(file, part) : await conditionOf(file, probed, { counts: false, dirt });
  const info = withMeasured(stream, condition.measurements);
  return { probed, info, plan: proposePlan(condition, info), condition, threads };
}

/** The condition of a still, measured by a process of its own. */
async function measuredApart(file: string, part: number | undefined): Promise<ConditionReport> {
  const asked = ['inspect', file, '--json', '--no-counts', ...(part === undefined ? [] : ['--part', String(part)])];
  try {
    const { stdout } = await promisify(execFile)(process.execPath, [process.argv[1], ...asked], { maxBuffer: MAX_REPORT_BYTES });
    return (JSON.parse(stdout) as { condition: ConditionReport }).condition;
  } catch (error) {
    const said = (error as { stderr?: string }).stderr?.trim().split('\n').at(-1);
    throw new MediaError(said?.replace(/^wairetic: /, '') || (error as Error).message, { cause: error });
  }
}

/** A report of a still has a few kilobytes. */
const MAX_REPORT_BYTES = 16 << 20;

/** Of a file whose plan is given nothing is measured but its fields. */
async function givenPlan(file: string, name: string, part: number | undefined): Promise<Treatable> {
  const plan = await readPlanFile(name);
  const probed = await probePart(file, part);
  const source = await openSource(file, file, probed);
  try {
    const info = withMeasured(probed.facts.stream, await examineFields(source));
    return { probed, info, plan: readPlan(plan, info) };
  } finally {
    source.close?.();
  }
}

interface TreatOptions extends Partial<Omit<About, 'people'>> {
  plan?: string;
  out?: string;
  quality?: string;
  from?: string;
  to?: string;
  part?: string;
  person?: string[];
  space?: string;
  crop?: string;
  lay?: string[];
  reference?: string[];
}

/** Treats a file, with a folder of its own for what is laid in where anything is. */
async function treat(file: string, options: TreatOptions): Promise<string> {
  if (!options.lay?.length && !options.reference?.length) return treatWith(file, options);
  const marks = await mkdtemp(path.join(tmpdir(), 'wairetic-laid-'));
  try {
    return await treatWith(file, options, marks);
  } finally {
    await rm(marks, { recursive: true, force: true });
  }
}

async function treatWith(
  file: string,
  { person, lay = [], reference: references = [], crop, ...options }: TreatOptions,
  marks = '',
): Promise<string> {
  if (!options.plan || !options.out) throw new UsageError('treat needs --plan and --out');
  const part = partNumber(options.part);
  const {
    probed,
    info,
    plan: given,
    condition,
    threads,
  } = options.plan === 'measured' ? await measuredPlan(file, options.out, part) : await givenPlan(file, options.plan, part);
  const asked = inQuality(given, options.quality);
  const own = references.length ? await withReferences(asked, { file, probed, references, marks }) : asked;
  const plan = lay.length || crop !== undefined ? await withParts(own, info, probed, { lay, crop }, marks) : own;
  // Colours are not laid over others unsaid: whether there are any has to be looked at.
  const report = condition ?? (monochromePlan(plan) && (await measuredApart(file, part)));
  for (const { text } of planWarnings(plan, layOut(plan, info), report)) process.stderr.write(`wairetic: ${text}\n`);
  const stop = new AbortController();
  process.once('SIGINT', () => stop.abort());
  const shown = process.stderr.isTTY;
  const start = Date.now();
  const notes = await treatFile({
    path: file,
    probed,
    info,
    plan,
    marks,
    output: options.out,
    about: toldOf(options, person),
    space: spaceNamed(options.space),
    from: seconds(options.from, 'from'),
    to: seconds(options.to, 'to'),
    signal: stop.signal,
    threads,
    progress: (done, frames) => {
      if (shown)
        process.stderr.write(`\r${done} of ${frames} frames, ${((Date.now() - start) / 1000 / Math.max(1, done)).toFixed(3)} s a frame   `);
    },
  });
  if (shown) process.stderr.write('\n');
  return notes.join('\n');
}

function spaceNamed(name: string | undefined): StillSpace | undefined {
  const found = STILL_SPACES.find((space) => space === name);
  if (name !== undefined && !found) throw new UsageError(`--space takes one of ${STILL_SPACES.join(', ')}, not "${name}"`);
  return found;
}

/** What the options tell of a file. */
function toldOf({ title = '', date = '', place = '', rights = '', caption = '' }: TreatOptions, people: string[] = []): About {
  return { title, people, date, place, rights, caption };
}

/** @throws an error without words when something is wrong: it was told already. */
async function verify(): Promise<void> {
  if (await verifyCommand((text) => process.stdout.write(`${text}\n`))) throw Object.assign(new Error('not all is as it was'), { exit: 1 });
}

async function serve(port: string | undefined): Promise<never> {
  const { spawn } = await import('node:child_process');
  const child = spawn(process.execPath, ['dist/server.mjs', port ?? '4310'], {
    cwd: applicationRoot(),
    stdio: 'inherit',
    env: { ...process.env, NODE_ENV: 'production', NEXT_TELEMETRY_DISABLED: '1' },
  });
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => child.kill(signal));
  return new Promise((_, reject) => child.on('exit', (code) => reject(Object.assign(new Error('the server ended'), { exit: code ?? 1 }))));
}

async function main(): Promise<void> {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      json: { type: 'boolean', default: false },
      films: { type: 'boolean', default: false },
      'no-counts': { type: 'boolean', default: false },
      plan: { type: 'string' },
      out: { type: 'string' },
      quality: { type: 'string' },
      from: { type: 'string' },
      to: { type: 'string' },
      part: { type: 'string' },
      port: { type: 'string' },
      page: { type: 'string' },
      space: { type: 'string' },
      crop: { type: 'string' },
      lay: { type: 'string', multiple: true },
      reference: { type: 'string', multiple: true },
      title: { type: 'string' },
      person: { type: 'string', multiple: true },
      date: { type: 'string' },
      place: { type: 'string' },
      rights: { type: 'string' },
      caption: { type: 'string' },
      help: { type: 'boolean', short: 'h', default: false },
    },
  });
  const [command, file, ...rest] = positionals;
  if (values.help) return void process.stdout.write(USAGE);
  if (command === 'serve' && !file) return serve(values.port);
  if (command === 'queue') return void process.stdout.write(`${await queueCommand(positionals.slice(1))}\n`);
  if (command === 'verify' && !file) return verify();
  if (command === 'sheet' && file && !rest.length) {
    if (!values.out) throw new UsageError('sheet needs --out');
    return void process.stdout.write(`${await sheetCommand(file, values.out, partNumber(values.page, 'page'))}\n`);
  }
  if (command === 'people' && file && !rest.length) return void process.stdout.write(`${await peopleCommand(file, values)}\n`);
  if (!['inspect', 'propose', 'treat'].includes(command) || !file || rest.length)
    throw new UsageError(command ? `wrong use of ${command}` : 'no command given');
  const text =
    command === 'inspect'
      ? await inspect(file, values.json, partNumber(values.part), !values['no-counts'])
      : command === 'propose'
        ? await propose(file, values.json, values.quality, partNumber(values.part))
        : await treat(file, values);
  if (text) process.stdout.write(`${text}\n`);
}

main().then(
  () => process.exit(0),
  (error: Error & { code?: string; exit?: number }) => {
    const use = error instanceof UsageError || error.code?.startsWith('ERR_PARSE_ARGS');
    const message =
      error.code === 'ENOENT'
        ? `no such file: ${(error as NodeJS.ErrnoException).path}`
        : isUserError(error) || use
          ? error.message
          : process.env.WAIRETIC_DEBUG
            ? (error.stack ?? error.message)
            : error.message;
    if (error.exit === undefined) process.stderr.write(`wairetic: ${message}\n${use ? USAGE : ''}`);
    process.exit(error.exit ?? (error.code === 'cancelled' ? 130 : use ? 2 : 1));
  },
);

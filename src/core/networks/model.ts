import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { CodedError } from '../errors';
import { applicationRoot } from '../kernels/wasm';

/** What an enlarging network was trained on. */
export type Content = 'live' | 'drawn' | 'print';

/** An enlarging network: by what it was trained on. Of live pictures there are two: one of eight bits, for films, and one that loses nothing by rounding, for stills. */
export type Enlarging = Content | 'still';

export type NetworkName =
  | 'condition'
  | 'fields'
  | 'clean'
  | 'temporal'
  | 'dirt'
  | 'stains'
  | 'silvering'
  | 'heal'
  | 'halftone'
  | 'faces'
  | 'reference'
  | 'colour'
  | `enlarge-${Enlarging}`;

/** The networks that ship with the program. */
export const networkNames = (): NetworkName[] => [
  'condition',
  'fields',
  'clean',
  'temporal',
  'dirt',
  'stains',
  'silvering',
  'heal',
  'halftone',
  'faces',
  'reference',
  'colour',
  ...(['live', 'still', 'drawn', 'print'] as const).map((enlarging): NetworkName => `enlarge-${enlarging}`),
];

/** A network's card, as `training/export.py` writes it. */
export interface NetworkCard {
  name: string;
  sha256: string;
  bytes: number;
  weights: number;
  /** Planes it reads. */
  inputs: number;
  /** Multiplications and additions for one position of the folded planes. */
  operations: number;
  /** Optimiser steps of its training so far. */
  steps: number;
  /** Of a network of eight bits: the steps it learned with its rounding in place. */
  eightBit?: { steps: number };
}

/** A network that cannot be used, said in words for the restorer. */
export class NetworkError extends CodedError {
  constructor(message: string, options?: ErrorOptions) {
    super('network', message, options);
  }
}

/** A loaded network: planes in, corrections out. */
export interface Network {
  card: NetworkCard;
  /**
   * @param planes `channels` planes of `height` x `width`, one after the other; both sizes are multiples of 4, of `dirt`, `stains`, `silvering` and `colour` of 8.
   * @returns the corrections, planes of the same size one after the other; of `condition` its figures, of `dirt` and `stains` logarithmic odds, of `silvering` those and the veil, of `colour` likelihoods.
   */
  run(planes: Float32Array, channels: number, height: number, width: number): Promise<Float32Array>;
}

const HINT = 'Choose "fast" in the step, or bring the file back from the program\'s own copy.';

let threads = 1;
const loaded = new Map<NetworkName, Promise<Network>>();

/** How many threads one run may use, from the next network on that is loaded. Rendering runs several frames at once with one each. */
export function useNetworkThreads(count: number): void {
  threads = count;
}

const modelFile = (name: NetworkName, ending: string): string =>
  path.join(/* turbopackIgnore: true */ process.env.WAIRETIC_MODELS ?? path.join(applicationRoot(), 'models'), `${name}.${ending}`);

/** @throws NetworkError when there is no readable card. */
export function networkCard(name: NetworkName): NetworkCard {
  try {
    return JSON.parse(readFileSync(modelFile(name, 'json'), 'utf8')) as NetworkCard;
  } catch {
    throw new NetworkError(`The network "${name}" has no card at ${modelFile(name, 'json')}. ${HINT}`);
  }
}

/**
 * The network of this thread, loaded once, its file checked against the SHA-256 of its card.
 * @throws NetworkError when the file is missing, is not the one its card describes, or does not run here.
 */
export function network(name: NetworkName): Promise<Network> {
  let found = loaded.get(name);
  if (!found) {
    found = load(name);
    loaded.set(name, found);
    // What was missing may be there the next time.
    found.catch(() => loaded.delete(name));
  }
  return found;
}

async function load(name: NetworkName): Promise<Network> {
  const card = networkCard(name);
  const file = modelFile(name, 'onnx');
  let bytes: Buffer;
  try {
    bytes = readFileSync(file);
  } catch {
    throw new NetworkError(`The network "${name}" is missing at ${file}. ${HINT}`);
  }
  if (createHash('sha256').update(bytes).digest('hex') !== card.sha256)
    throw new NetworkError(`The network "${name}" at ${file} is damaged: its SHA-256 is not the one on its card. ${HINT}`);
  try {
    // Not before it is needed: most of the program never runs a network.
    const { InferenceSession, Tensor } = await import('onnxruntime-node');
    const session = await InferenceSession.create(bytes, {
      executionProviders: await executionProviders(),
      intraOpNumThreads: threads,
      interOpNumThreads: 1,
      graphOptimizationLevel: 'all',
    });
    return {
      card,
      run: async (planes, channels, height, width) => {
        const result = await session.run({ planes: new Tensor('float32', planes, [1, channels, height, width]) });
        return result.correction.data as Float32Array;
      },
    };
  } catch (error) {
    if (error instanceof NetworkError) throw error;
    throw new NetworkError(`The network "${name}" does not run on this machine: ${(error as Error).message}. ${HINT}`);
  }
}

/**
 * Where networks run: WAIRETIC_PROVIDERS, names parted by commas, the first that works is taken; `cpu` when it is not set.
 * @throws NetworkError for a name this build does not have.
 */
export async function executionProviders(): Promise<string[]> {
  const { listSupportedBackends } = await import('onnxruntime-node');
  const asked = (process.env.WAIRETIC_PROVIDERS ?? 'cpu').split(',').map((name) => name.trim());
  const known = listSupportedBackends().map((backend) => backend.name);
  const unknown = asked.find((name) => !known.includes(name));
  if (unknown !== undefined) throw new NetworkError(`WAIRETIC_PROVIDERS names "${unknown}"; networks can run on ${known.join(', ')} here.`);
  return asked;
}

import { assertNever } from '../../shared/assertNever';
import { composePlaces, invertPlace, placeOf, type Place } from '../../shared/maps/place';
import { rational, timeAt, timesOf } from '../../shared/maps/time';
import { NOTHING_PAINTED } from '../../shared/masks/painted';
import { contains, cutPicture, wholeRegion, type Region } from '../picture/picture';
import type { Plan } from '../../shared/plan';
import { joinCleaning } from './cleaning';
import { cleaningPass } from './cleaningPass';
import { joinPass } from './joinPass';
import { layOut, type LaidNode, type MissingAnalysis } from './layout';
import { Cancelled, type FrameSource, type Node, type Pass, type PassContext, type Resources, type Spent } from './node';
import { stepPass } from './stepPass';

/** A plan ready to be asked for pictures. */
export interface Graph {
  readonly source: Node;
  readonly output: Node;
  /** The node of a step, a fork, or the last of a branch; undefined where it is off or there is none. */
  node(id: string): Node | undefined;
  /** Steps that rest until something is measured. */
  readonly missing: readonly MissingAnalysis[];
}

/**
 * Makes a plan's nodes. They are worked by pulling: a request for a part of an output frame asks each node for what it needs of those
 * before. Proofs and renders both come from here, so a proof shows what the render will give, byte for byte.
 *
 * @throws PlanError when a step cannot work on what comes before it.
 */
export function compile(plan: Plan, source: FrameSource, resources: Resources): Graph {
  const layout = joinCleaning(layOut(plan, source.info, source.key, resources.analysis));
  const made = new Map<LaidNode, Node>();
  const nodeOf = (laid: LaidNode): Node => {
    const known = made.get(laid);
    if (known) return known;
    const node = workedNode(laid, laid.inputs.map(nodeOf), source, resources);
    made.set(laid, node);
    return node;
  };
  const nodes = new Map([...layout.nodes].map(([id, laid]) => [id, nodeOf(laid)]));
  return { source: nodeOf(layout.source), output: nodeOf(layout.output), node: (id) => nodes.get(id), missing: layout.missing };
}

function workedNode(laid: LaidNode, inputs: Node[], source: FrameSource, resources: Resources): Node {
  const { cache, painted = NOTHING_PAINTED, marks = noMarks, picture = noPicture, cancelled } = resources;
  const spent: Spent = { milliseconds: 0, frames: 0, pixels: 0 };
  let shared = new Map<string, unknown>();
  const pass = passOf(
    {
      node: laid,
      inputs,
      spent,
      painted,
      marks,
      picture,
      source: source.info,
      goOn() {
        if (cancelled?.()) throw new Cancelled();
      },
      share<T>(key: string, make: () => T): T {
        if (!shared.has(key)) shared = new Map([[key, make()]]);
        return shared.get(key) as T;
      },
    },
    source,
  );
  const { id, stream, key, time, geometry } = laid;
  return {
    id,
    inputs,
    stream,
    key,
    time,
    geometry,
    spent,
    ...(pass.found && { found: pass.found.bind(pass) }),
    async frame(n, region) {
      if (n < 0 || n >= stream.frames) throw new RangeError(`frame ${n} of ${stream.frames}`);
      if (!contains(wholeRegion(stream), region))
        throw new RangeError(`region ${JSON.stringify(region)} leaves the frame of ${stream.width} x ${stream.height}`);
      const known = cache.find(key, n, region);
      if (known) return cutPicture(known, region);
      const picture = await pass.make(n, region);
      cache.keep(key, n, picture);
      return cutPicture(picture, region);
    },
  };
}

const noPicture = (hash: string): Promise<never> => Promise.reject(new RangeError(`there is no picture ${hash}`));
const noMarks = (hash: string): Promise<never> => Promise.reject(new RangeError(`there is no hand work ${hash}`));

function passOf(context: PassContext, source: FrameSource): Pass {
  const { work } = context.node;
  switch (work.kind) {
    case 'source':
      return { make: (n, region) => source.frame(n, region) };
    case 'step':
      return stepPass(work.step, work.analyses, context);
    case 'cleaning':
      return cleaningPass(work.steps, context);
    case 'join':
      return joinPass(work.layers, work.ground, context);
    default:
      return assertNever(work);
  }
}

/** What a node takes for a whole frame, reckoned from what it worked; 0 where all was remembered. Milliseconds. */
export function costOf({ spent: { milliseconds, pixels }, stream: { width, height } }: Node): number {
  return pixels > 0 ? (milliseconds * width * height) / pixels : 0;
}

/** Where a region of one node lies in the frame of another that shows the same moment, in its pixels. */
export function placeBetween(from: Placed, n: number, to: Placed, m: number, region: Region | Place): Place {
  return placeOf(composePlaces(invertPlace(to.geometry(m)), from.geometry(n)), region);
}

type Placed = Pick<Node, 'geometry'>;

/** The frame of a node that shows the moment of frame `n` of one that was made of it. */
export function frameBefore(node: Timed, n: number, before: Timed): number {
  const [at] = timesOf(before.time, timeAt(node.time, rational(n)));
  return at ? Math.floor(at.num / at.den) : 0;
}

type Timed = Pick<Node, 'time'>;

import type { CleanRequest } from '../networks/steering';
import type { NetworkName } from '../networks/model';
import type { ReadyStep } from '../plan/plan';
import type { LaidNode, Layout } from './layout';

/**
 * The rewriting pass that joins steps of the cleaning networks: each such step, with those right before it, becomes one pass over the
 * picture before the first of them, steered by all. Whatever node is looked at thus costs one pass, however many steps led to it.
 */
export function joinCleaning(layout: Layout): Layout {
  const made = new Map<LaidNode, LaidNode>();
  const rewritten = (node: LaidNode): LaidNode => {
    const known = made.get(node);
    if (known) return known;
    const row = cleaningRow(node);
    const out: LaidNode = row.length
      ? { ...node, inputs: row[0].inputs.map(rewritten), work: { kind: 'cleaning', steps: row.map(stepOf) } }
      : { ...node, inputs: node.inputs.map(rewritten) };
    made.set(node, out);
    return out;
  };
  const nodes = new Map([...layout.nodes].map(([id, node]) => [id, rewritten(node)]));
  return { ...layout, source: rewritten(layout.source), output: rewritten(layout.output), nodes };
}

/** What a node asks of the cleaning networks; undefined for all that do not use them. */
export function cleanRequest({ work, inputs }: LaidNode): CleanRequest | undefined {
  return work.kind === 'step' ? work.step.treatment.steering?.(work.step.settings, inputs[0].stream) : undefined;
}

const stepOf = ({ work }: LaidNode): ReadyStep => (work as { step: ReadyStep }).step;

/** The cleaning steps in a row that end with a node, the first of them first; none where it is no such step. */
function cleaningRow(node: LaidNode): LaidNode[] {
  return cleanRequest(node) ? [...cleaningRow(node.inputs[0]), node] : [];
}

/**
 * The networks that work each step of a plan, by its id. Cleaning steps in a row are one pass: where one of them has the neighbouring
 * frames help, they help all of them.
 */
export function networksOf(layout: Layout): Map<string, NetworkName[]> {
  const own = ({ work, inputs }: LaidNode): NetworkName[] =>
    work.kind === 'step' ? (work.step.treatment.networks?.(work.step.settings, inputs[0].stream) ?? []) : [];
  const out = new Map<string, NetworkName[]>();
  const nodes = [...layout.nodes].filter(([id, { work }]) => work.kind === 'step' && work.step.id === id).map(([, node]) => node);
  for (const node of nodes) out.set(node.id, own(node));
  for (const node of nodes) {
    const row = cleaningRow(node);
    const moving = row.find((n) => cleanRequest(n)?.moving);
    if (moving) for (const member of row) out.set(member.id, own({ ...moving, inputs: row[0].inputs }));
  }
  return out;
}

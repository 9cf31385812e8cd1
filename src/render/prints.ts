import {
  analysisFile,
  archive,
  currentPlan,
  findItem,
  type Item,
  itemsOfPrints,
  measuredStream,
  pictureKey,
  saveCondition,
  savePlan,
} from '../archive';
import { layOut, proposePlan } from '../core';
import { allSteps, mapSteps, type Plan } from '../shared/plan';
import { examined } from './examination';
import { sourceRef } from './sourceRef';

/**
 * Makes an item of each print on a scan of several. Each is examined by itself, cut out and straightened, and its plan is proposed from that.
 * @throws PlanError where there are not several.
 */
export async function makePrints(item: Item): Promise<Item[]> {
  const a = await archive();
  const prints = await itemsOfPrints(a, item);
  for (const print of prints) {
    const begun = (await currentPlan(a, print.id))?.plan;
    if (begun) await examinePrint(print, begun);
  }
  return Promise.all(prints.map(async (print) => (await findItem(a, print.id)) ?? print));
}

/** @param begun the print's first plan, in which a step cuts it out. */
async function examinePrint(print: Item, begun: Plan): Promise<void> {
  const a = await archive();
  const cutting = allSteps(begun).find((step) => step.treatment === 'perspective');
  if (!cutting) return;
  const plan = mapSteps(begun, (step) => ({ ...step, on: step === cutting }));
  const node = layOut(plan, measuredStream(print), pictureKey(print)).nodes.get(cutting.id);
  if (!node) return;
  const report = await examined(a, print, {
    fileOf: (analysis) => analysisFile(a.paths.derived, analysis, node.key),
    stream: node.stream,
    describe: async () => ({ source: await sourceRef(a, print), of: { plan, node: cutting.id } }),
  });
  await saveCondition(a, print.id, report);
  // Its corners are the scan's; by itself it has none to be cut out by.
  const papers = [print.facts.part?.print?.corners ?? ''];
  const proposed = proposePlan({ ...report, measurements: { ...report.measurements, papers } }, node.stream);
  const cut = mapSteps(proposed, (step) => (step.treatment === 'perspective' ? { ...cutting, on: true } : step));
  await savePlan(a, print.id, cut, 'proposed from the print by itself');
}

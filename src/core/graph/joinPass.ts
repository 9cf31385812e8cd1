import { asColour } from '../picture/asColour';
import { chromaGrid, growRegion, type Picture } from '../picture/picture';
import { account, type Pass, type PassContext } from './node';
import { restsAt, type Layer } from './layout';
import { maskReader, mixPictures } from './masked';

/** Branches of a fork laid over one another, the first lowest. */
export function joinPass(layers: Layer[], ground: boolean, context: PassContext): Pass {
  const { node, spent, inputs, goOn } = context;
  const read = maskReader(context.source, node.geometry, context.painted);
  return {
    async make(n, region) {
      // Chroma samples stay whole.
      const wanted = growRegion(region, 0, chromaGrid(node.stream), node.stream);
      let below: Picture | undefined = ground ? await inputs[0].frame(n, wanted) : undefined;
      for (const [index, { opacity, mask, span }] of layers.entries()) {
        const branch = inputs[ground ? index + 1 : index];
        if (!below) below = await branch.frame(n, wanted);
        else if (!restsAt(span, node.time, n)) {
          const weights = mask ? await read(mask, n, wanted) : new Float32Array(wanted.width * wanted.height).fill(1);
          if (opacity !== 1) for (let i = 0; i < weights.length; i++) weights[i] *= opacity;
          // What is not seen is not worked.
          if (weights.every((w) => w === 0)) continue;
          const over = asColour(await branch.frame(n, wanted), node.stream);
          goOn();
          const start = performance.now();
          below = mixPictures(below, over, weights);
          account(spent, start, wanted);
        }
      }
      const made = asColour(below ?? (await inputs[0].frame(n, wanted)), node.stream);
      return { ...made, info: node.stream };
    },
  };
}

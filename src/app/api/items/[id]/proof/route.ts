import { measuredStream, type ProofReport } from '../../../../../archive';
import { readPlan } from '../../../../../core';
import { coarseLook, proofItem } from '../../../../../render';
import { ProofBody } from '../../../../bodies';
import { handler, readBody } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** A proof as plain pixels, four bytes each; its size, where it lies and what it cost stand in a header. */
export const POST = handler<ItemContext>(async (request, context) => {
  const item = await itemOf(context);
  const body = await readBody(request, ProofBody);
  const query = { ...body, plan: readPlan(body.plan, measuredStream(item)) };
  const proof = await (body.coarse ? coarseLook : proofItem)(item, query, request.signal);
  if (!proof) return new Response(null, { status: 204 });
  const { pixels, ...rest } = proof;
  const report: ProofReport = rest;
  return new Response(pixels as Uint8Array<ArrayBuffer>, {
    headers: { 'content-type': 'application/octet-stream', 'cache-control': 'no-store', 'wairetic-proof': JSON.stringify(report) },
  });
});

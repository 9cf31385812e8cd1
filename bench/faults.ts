import { FAULTS, FaultRun, type Outcome } from '../tests/faults';
import { TestServer } from '../tests/server';
import type { Row } from './table';

/** Kills of each kind at each moment. */
const ROUNDS = 200;

/** Worker, server, decoders and encoders killed in intake, render and delivery: what was lost, doubled, or came out otherwise. */
export async function faults(): Promise<Row[]> {
  const rounds = Number(process.env.WAIRETIC_FAULTS ?? ROUNDS);
  const server = new TestServer();
  await server.start();
  const run = new FaultRun(server, Date.now() % 1e9);
  const outcomes: Outcome[] = [];
  try {
    await run.begin();
    for (let n = 0; n < rounds; n++) for (const fault of FAULTS) outcomes.push(await run.hit(fault));
  } finally {
    run.end();
    await server.stop();
  }
  return FAULTS.map(({ moment, target }): Row => {
    const own = outcomes.filter((o) => o.moment === moment && o.target === target);
    const lost = own.filter((o) => !o.whole).length;
    const shown = `${lost} of ${own.length}, ${own.filter((o) => o.hit).length} hit`;
    return { group: 'Faults', what: `${target} killed in ${moment}: lost, doubled or other bytes`, shown, value: lost, atMost: 0 };
  });
}

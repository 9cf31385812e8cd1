import { makeReport } from './proof';
import type { Answer } from './processPool';
import type { SourceRef } from './segment';

/** What an examination gives: the report, and a small JPEG for contact sheets. */
export type Examined = Awaited<ReturnType<typeof makeReport>>;

async function answer(source: SourceRef): Promise<Answer<Examined>> {
  try {
    return { result: await makeReport(source) };
  } catch (error) {
    return { problem: (error as Error).message };
  }
}

/** Entry of a process that examines items: one source a message. It ends with whoever started it. */
process.on('message', (source: SourceRef) => void answer(source).then((told) => process.send?.(told)));
process.on('disconnect', () => process.exit());

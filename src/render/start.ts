import { archive, archivePaths, claimArchive, openVerified, recoverUploads, releaseAll, takeSnapshot } from '../archive';
import { examineLater, resumeExaminations } from './examination';
import { warmProofs } from './proofPool';
import { superviseWorker } from './supervisor';

/** Milliseconds between looks whether a day's copy of the database is due. */
const HOUR = 3_600_000;

/**
 * Opens the archive for this server: alone, sound, with what the last one left behind put in order, and its work going on. Where that
 * cannot be, the server says why and ends.
 */
export async function startArchive(): Promise<void> {
  try {
    const giveUp = await claimArchive(archivePaths());
    // A server that is stopped leaves no lock behind; one that is killed leaves one that nobody lives to hold.
    process.once('exit', giveUp);
    const a = await openVerified(archive);
    const snapshot = (): void =>
      void takeSnapshot(a).catch((error: Error) => console.error(`no copy of the database today: ${error.message}`));
    snapshot();
    setInterval(snapshot, HOUR).unref();
    await releaseAll(a);
    for (const result of await recoverUploads(a)) if (result.ok) for (const { id } of result.items) examineLater(id);
  } catch (error) {
    console.error(`Wairetic cannot start. ${(error as Error).message}`);
    process.exit(1);
  }
  superviseWorker();
  warmProofs();
  await resumeExaminations();
}

/** Runs once when the server starts. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const { superviseWorker } = await import('./render/supervisor');
  const { resumeExaminations, warmProofs } = await import('./render/proofPool');
  superviseWorker();
  warmProofs();
  await resumeExaminations();
}

import type { Knex } from 'knex';

/** What an old reading of grain or coding is worth: it could not tell texture from grain. */
const UNSURE = 0.5;

/** Condition reports say how sure they are of grain and coding. Those made before could not, and are unsure. */
export async function up(db: Knex): Promise<void> {
  const at = (name: string): string => `'$.measurements.${name}'`;
  const read = (name: string): string => `json_extract(condition, ${at(name)})`;
  const added = [
    `${at('grainLumaLeast')}, ${read('grainLuma')} / 2`,
    `${at('grainChromaLeast')}, ${read('grainChroma')} / 2`,
    ...['grainConfidence', 'grainChromaConfidence', 'codingConfidence'].map((name) => `${at(name)}, ${UNSURE}`),
  ];
  await db('items')
    .whereNotNull('condition')
    .whereRaw(`${read('grainConfidence')} is null`)
    .update({ condition: db.raw(`json_set(condition, ${added.join(', ')})`) });
}

/** What was added is passed over by what does not know it. */
export const down = (): Promise<void> => Promise.resolve();

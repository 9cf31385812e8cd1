import type { Knex } from 'knex';
import { type ConditionReport, readPlan } from '../../core';
import type { MediaFacts } from '../../media';
import { withMeasured } from '../measured';

/** Plans hold forks, and masks that lie in the source: kept plans are brought to version 2. Plans that no program could read stay as they are. */
export async function up(db: Knex): Promise<void> {
  const items = await db('items').select<{ id: string; facts: string; condition: string | null }[]>('id', 'facts', 'condition');
  for (const { id, facts, condition } of items) {
    const report = condition === null ? undefined : (JSON.parse(condition) as ConditionReport);
    const source = withMeasured((JSON.parse(facts) as MediaFacts).stream, report?.measurements);
    const upgraded = (text: string): string | undefined => {
      try {
        return JSON.stringify(readPlan(JSON.parse(text), source));
      } catch {
        return undefined;
      }
    };
    for (const row of await db('plans').where({ item_id: id }).select<{ version: number; plan: string }[]>('version', 'plan')) {
      const plan = upgraded(row.plan);
      if (plan) await db('plans').where({ item_id: id, version: row.version }).update({ plan });
    }
    for (const row of await db('jobs').where({ item_id: id }).select<{ id: string; plan: string }[]>('id', 'plan')) {
      const plan = upgraded(row.plan);
      if (plan) await db('jobs').where({ id: row.id }).update({ plan });
    }
    for (const row of await db('strips').where({ item_id: id }).select<{ id: string; content: string }[]>('id', 'content')) {
      const content = JSON.parse(row.content) as { plan: unknown };
      const plan = upgraded(JSON.stringify(content.plan));
      if (plan)
        await db('strips')
          .where({ id: row.id })
          .update({ content: JSON.stringify({ ...content, plan: JSON.parse(plan) as unknown }) });
    }
  }
}

/** What version 2 says, a program of version 1 does not understand: there is no way back. */
export const down = (): Promise<void> => Promise.reject(new Error('plans of version 2 cannot be taken back to version 1'));

import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { createCollection, type Item, keepAppearances, moveAppearances, tellPerson } from '../archive';
import { appearancesIn } from '../archive/people/appearances';
import { TestArchive } from '../archive/testing';
import { readPlan } from '../core';
import { DEFAULT_JOB_OPTIONS } from '../shared/jobs';
import { namedPeople } from './namedPeople';

let test: TestArchive;
let item: Item;

const face = (x: number, y: number) => ({
  ...{ x, y, width: 0.25, height: 0.25, pixels: 8, yaw: 0 },
  ...{ residual: Float32Array.of(1, x), separable: Float32Array.of(x, 1), portrait: Uint8Array.of(1) },
});

/** A print of 32 x 32 pixels with Ruth at the left above, and somebody without a name at the right below. */
beforeEach(async () => {
  test = await TestArchive.open();
  const { id } = await createCollection(test.archive, { name: 'Pellow Quay' });
  item = await test.itemIn(id, 10);
  await keepAppearances(test.archive, item.id, 'key', [face(0.25, 0.25), face(0.625, 0.625)]);
  const [ruth] = await appearancesIn(test.archive, item.id);
  const person = await moveAppearances(test.archive, id, [ruth.id], 'new');
  await tellPerson(test.archive, id, String(person), { name: 'Ruth' });
});
afterEach(() => test.close());

const named = (steps: { treatment: string; settings?: object }[], namePlaces = true) =>
  namedPeople(test.archive, item, {
    plan: readPlan({ format: 'wairetic-plan', version: 2, steps: steps.map((step) => ({ on: true, settings: {}, ...step })) }),
    options: { ...DEFAULT_JOB_OPTIONS, namePlaces },
  });

describe('who is named in a result', () => {
  it('are those who have a name, where they are in it', async () => {
    expect(await named([])).toEqual({
      ...{ width: 32, height: 32 },
      faces: [{ name: 'Ruth', place: { x: 0.25, y: 0.25, width: 0.25, height: 0.25 } }],
    });
    const cut = await named([{ treatment: 'crop', settings: { left: 4, top: 8 } }]);
    expect(cut).toMatchObject({ width: 28, height: 24, faces: [{ name: 'Ruth' }] });
    const [{ place }] = cut?.faces ?? [];
    expect([place.x * 28, place.y * 24, place.width * 28, place.height * 24]).toEqual(
      [4, 0, 8, 8].map((v) => expect.closeTo(v, 6) as number),
    );
  });

  it('are none that the plan cuts away, none where it redacts, and none where nobody asks', async () => {
    expect((await named([{ treatment: 'crop', settings: { left: 16 } }]))?.faces).toEqual([]);
    expect(await named([{ treatment: 'redact' }])).toBeUndefined();
    expect(await named([], false)).toBeUndefined();
  });
});

'use client';

import { useQuery } from '@tanstack/react-query';
import { useId, useState, type MouseEvent } from 'react';
import type { CollectionAnswer } from '../../../archive';
import { colourOf } from '../../../shared/settings';
import { api } from '../../parts/api';
import { useBench } from '../state/store';

/** Side in pixels of what is taken: noise averages out in it. */
const SIDE = 3;

/** The mean colour round a place of a picture that is shown; undefined outside it. */
function colourAt(event: MouseEvent<HTMLImageElement>): string | undefined {
  const image = event.currentTarget;
  const box = image.getBoundingClientRect();
  const canvas = new OffscreenCanvas(SIDE, SIDE);
  const context = canvas.getContext('2d', { willReadFrequently: true });
  if (!context) return undefined;
  const x = ((event.clientX - box.left) * image.naturalWidth) / box.width,
    y = ((event.clientY - box.top) * image.naturalHeight) / box.height;
  context.drawImage(image, x - SIDE / 2, y - SIDE / 2, SIDE, SIDE, 0, 0, SIDE, SIDE);
  const { data } = context.getImageData(0, 0, SIDE, SIDE);
  const sums = [0, 0, 0, 0];
  data.forEach((v, i) => (sums[i % 4] += v));
  if (sums[3] === 0) return undefined;
  return colourOf(sums.slice(0, 3).map((v) => (257 * 255 * v) / sums[3]));
}

/** Takes a colour from any picture of the collection, by a click on it. */
export function FromPicture({ onTake }: { onTake: (colour: string) => void }) {
  const id = useId();
  const collectionId = useBench((s) => s.item.collectionId);
  const [item, setItem] = useState('');
  const { data } = useQuery({
    queryKey: ['collection', collectionId],
    queryFn: () => api<CollectionAnswer>(`collections/${collectionId}`),
  });
  const pictures = (data?.items ?? []).filter(({ state }) => state === 'ready');
  return (
    <>
      <label htmlFor={id} className="text-ink2">
        Take from
      </label>
      <select id={id} className="field min-w-0" value={item} onChange={(e) => setItem(e.target.value)}>
        <option value="">a picture here</option>
        {pictures.map(({ id: key, name }) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </select>
      {item && (
        // eslint-disable-next-line @next/next/no-img-element -- a document of the archive, not an asset of the site
        <img
          src={`/api/items/${item}/thumbnail`}
          alt="Click to take a colour"
          className="col-start-2 max-h-[180px] max-w-full cursor-crosshair"
          onClick={(event) => {
            const taken = colourAt(event);
            if (taken) onTake(taken);
          }}
        />
      )}
    </>
  );
}

'use client';

import { useMutation, useQuery } from '@tanstack/react-query';
import { useId, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { CollectionAnswer, FacesAnswer, LaidAnswer, TreatmentInfo } from '../../../archive';
import { type InlayPlace, type InlayShape } from '../../../shared/inlay';
import { pointAt } from '../../../shared/maps/place';
import type { PlanStep } from '../../../shared/plan';
import { api } from '../../parts/api';
import { toSource } from '../faces/faceActions';
import { changeSettings } from '../state/planActions';
import { useBench, useBenchStore } from '../state/store';
import { laidIn, nearestPlace, placeAtFirst, placeSettings } from './inlayActions';
import { laidAddress } from './laidSize';
import { PictureFile } from './pictureFile';

/** Milliseconds between two looks at how far faces are found. */
const AGAIN_MS = 800;

/** The faces of an item, as they are found. */
const useFaces = (item: string, wanted: boolean) =>
  useQuery({
    queryKey: ['faces', item],
    enabled: wanted && item !== '',
    queryFn: () => api<FacesAnswer>(`items/${item}/faces`),
    refetchInterval: ({ state }) => ((state.data?.share ?? 0) < 1 && !state.data?.problem ? AGAIN_MS : false),
  });

/** What a step lays in: a still of the collection, a face of one, or a file; and which face here it is laid on. */
export function InlayPanel({ step, placing }: { step: PlanStep; placing: NonNullable<TreatmentInfo['placing']> }) {
  const bench = useBenchStore();
  const id = useId();
  const { id: own, collectionId, kind } = useBench((s) => s.item);
  const source = useBench((s) => s.description.source);
  const now = laidIn(step, placing);
  const [from, setFrom] = useState('');
  const file = useRef<HTMLInputElement>(null);
  const { data } = useQuery({
    queryKey: ['collection', collectionId],
    queryFn: () => api<CollectionAnswer>(`collections/${collectionId}`),
  });
  const stills = (data?.items ?? []).filter((item) => item.kind === 'still' && item.state === 'ready' && item.id !== own);
  const there = useFaces(from, true).data?.faces.flatMap((face, index) => (face.inlay ? [{ ...face, index }] : [])) ?? [];
  const here = useFaces(own, kind === 'still').data?.faces.flatMap(({ inlay, pixels }) => (inlay ? [{ inlay, pixels }] : [])) ?? [];
  const places = here.map(({ inlay }) => inlay);

  const lay = useMutation({
    mutationFn: ({ given }: { given: File | { item: string; face?: number }; shape: InlayShape }) =>
      given instanceof File
        ? api<LaidAnswer>(`items/${own}/pictures`, { method: 'POST', body: given })
        : api<LaidAnswer>(`items/${given.item}/laid${given.face === undefined ? '' : `?face=${given.face}`}`, { method: 'POST' }),
    onSuccess: (laid, { shape }) => {
      const face = shape === 'oval' ? nearestPlace(places, middleInView()) : undefined;
      const place = face ?? (now.picture && shape === now.shape ? now.place : placeAtFirst(laid, source));
      changeSettings(
        bench,
        step.id,
        { [placing.picture]: laid.picture, [placing.shape]: shape, ...placeSettings(place, placing) },
        'another picture',
      );
    },
    onError: (error) => toast.error(error.message),
  });
  const middleInView = (): { x: number; y: number } => {
    const state = bench.getState();
    const { x, y } = pointAt(toSource(state), state.view.u, state.view.v);
    return { x: x * source.width, y: y * source.height };
  };
  const onto = (place: InlayPlace | undefined): void => {
    if (place) changeSettings(bench, step.id, placeSettings(place, placing), 'laid on a face');
  };

  return (
    <div className="grid grid-cols-[minmax(66px,auto)_minmax(0,1fr)] items-center gap-x-2 gap-y-[5px] pb-1.5" data-testid="inlay-panel">
      <label htmlFor={`${id}-from`}>Picture</label>
      <span className="flex items-center gap-2">
        {now.picture && (
          // eslint-disable-next-line @next/next/no-img-element -- a document of the archive, not an asset of the site
          <img src={laidAddress(now.picture)} alt="What is laid in" className="h-[39px] w-[39px] border border-rule2 object-cover" />
        )}
        <select
          id={`${id}-from`}
          className="field min-w-0 flex-1"
          value={from}
          disabled={lay.isPending}
          onChange={({ target: { value } }) => {
            if (value === 'file') {
              file.current?.click();
              return;
            }
            setFrom(value);
            if (value) lay.mutate({ given: { item: value }, shape: 'whole' });
          }}
        >
          <option value="">{lay.isPending ? 'reading it' : now.picture ? 'another' : 'choose'}</option>
          <option value="file">a file…</option>
          {stills.map((item) => (
            <option key={item.id} value={item.id}>
              {item.name}
            </option>
          ))}
        </select>
        <PictureFile
          at={file}
          label="File to lay in"
          onFile={(given) => {
            setFrom('');
            lay.mutate({ given, shape: now.shape });
          }}
        />
      </span>
      {there.length > 0 && (
        <>
          <label htmlFor={`${id}-part`}>Part of it</label>
          <select
            key={from}
            id={`${id}-part`}
            className="field min-w-0"
            disabled={lay.isPending}
            defaultValue=""
            onChange={({ target: { value } }) =>
              lay.mutate({
                given: { item: from, ...(value && { face: Number(value) }) },
                shape: value ? 'oval' : 'whole',
              })
            }
          >
            <option value="">all</option>
            {there.map(({ index, pixels }, n) => (
              <option key={index} value={index}>
                face {n + 1}, {pixels} px wide
              </option>
            ))}
          </select>
        </>
      )}
      {here.length > 0 && now.shape === 'oval' && (
        <>
          <label htmlFor={`${id}-onto`}>Laid on</label>
          <select id={`${id}-onto`} className="field min-w-0" value="" onChange={({ target: { value } }) => onto(places.at(Number(value)))}>
            <option value="">{places.some((p) => samePlace(p, now.place)) ? 'a face here' : 'by hand'}</option>
            {here.map(({ pixels }, n) => (
              <option key={n} value={n}>
                face {n + 1}, {pixels} px wide
              </option>
            ))}
          </select>
        </>
      )}
      <p className="col-span-2 text-[12px] leading-[16px] text-ink2">
        {now.picture ? 'Drag it in the picture; its two handles turn and size it.' : 'Nothing is laid in yet.'}
      </p>
    </div>
  );
}

/** Whether two places are one, but for what settings round off. */
const samePlace = (a: InlayPlace, b: InlayPlace): boolean => Math.hypot(a.x - b.x, a.y - b.y, a.width - b.width, a.turn - b.turn) < 0.01;

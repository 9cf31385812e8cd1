'use client';

import { useMutation, useQuery } from '@tanstack/react-query';
import { CircleOff, Plus } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import Link from 'next/link';
import { useRef, useState } from 'react';
import { toast } from 'sonner';
import type { ReferenceInfo, ReferencesAnswer } from '../../../archive';
import { type FaceReference, type ReferenceUse, usedReferences } from '../../../shared/faceReferences';
import type { PlanStep } from '../../../shared/plan';
import { api } from '../../parts/api';
import { yearBeside } from '../../parts/format';
import { PictureFile } from '../inlay/pictureFile';
import { useBench } from '../state/store';
import type { ListedFace } from './faceActions';
import { useFaceProof } from './useFaceProof';

/** Quiet time before it is asked which pictures were not used, milliseconds: the faces come first. */
const QUIET_MS = 400;
const ITEM = 'block cursor-pointer px-3 py-1 outline-none data-[highlighted]:bg-ink data-[highlighted]:text-paper';

/** The pictures that a face is restored by, and where others are brought from. */
export function FaceReferenceRow({
  face,
  step,
  name,
  pictures,
  onUse,
  onAdd,
}: {
  face: ListedFace;
  step: PlanStep;
  name: string;
  pictures: readonly FaceReference[];
  onUse(picture: string, use: ReferenceUse | undefined): void;
  onAdd(pictures: readonly string[]): void;
}) {
  const item = useBench((s) => s.item.id);
  const names = pictures.map(({ picture }) => picture).join(',');
  const { data: infos } = useQuery({
    queryKey: ['references', names],
    queryFn: () => api<ReferenceInfo[]>(`items/${item}/references?of=${names}`),
    enabled: names !== '',
    staleTime: Infinity,
  });
  const [unused, setUnused] = useState<readonly string[]>([]);
  const asks = { of: step.id, around: 0, quiet: QUIET_MS, wanted: step.on && usedReferences(pictures).length > 0 };
  useFaceProof(face, { ...asks, query: () => ({ found: step.id, fit: { width: 1, height: 1 } }) }, ({ found }) =>
    setUnused(found?.unused ?? []),
  );
  const file = useRef<HTMLInputElement>(null);
  const bring = useMutation({
    mutationFn: (given: File) =>
      api<ReferencesAnswer>(`items/${item}/references/file?name=${encodeURIComponent(given.name)}`, { method: 'POST', body: given }),
    onSuccess: (answer) => onAdd(answer.pictures),
    onError: (error) => toast.error(error.message),
  });
  return (
    <span className="-ml-[3px] flex flex-wrap items-center gap-[3px]" role="group" aria-label={`Other pictures for ${name}`}>
      {pictures.map((one) => (
        <Reference
          key={one.picture}
          {...one}
          unlike={one.use !== 'left' && unused.includes(one.picture)}
          info={infos?.find(({ picture }) => picture === one.picture)}
          onUse={(use) => onUse(one.picture, use)}
        />
      ))}
      <button
        type="button"
        className="grid h-6 w-6 place-items-center text-ink2 hover:text-ink"
        disabled={bring.isPending}
        aria-label={`Bring another picture of ${name} from a file`}
        title="Another picture of the same person, from a file: its largest face is taken"
        onClick={() => file.current?.click()}
      >
        <Plus size={13} aria-hidden />
      </button>
      <PictureFile at={file} label={`File with another picture of ${name}`} onFile={(given) => bring.mutate(given)} />
    </span>
  );
}

const SAID: Readonly<Record<ReferenceUse, string>> = { chosen: '', kept: ', kept', left: ', left out' };

function Reference({
  use,
  unlike,
  info,
  onUse,
}: FaceReference & { unlike: boolean; info: ReferenceInfo | undefined; onUse(use: ReferenceUse | undefined): void }) {
  const year = info && yearBeside(info.name, info.year);
  const said = `${SAID[use]}${unlike ? ', not used: it does not look like the same person here' : ''}`;
  const of = info ? `${[info.name, year].filter(Boolean).join(', ')}, ${info.pixels} px` : 'another picture';
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        className={`relative h-6 w-6 bg-surround ${use === 'kept' ? 'outline-2 outline-act' : ''}`}
        title={`${of}${said}`}
        aria-label={`${of}${said}`}
      >
        {info && (
          // eslint-disable-next-line @next/next/no-img-element
          <img src={info.small} alt="" className={`h-6 w-6 object-cover ${use === 'left' || unlike ? 'opacity-30' : ''}`} />
        )}
        {unlike && <CircleOff size={13} className="absolute right-[-3px] bottom-[-3px] rounded-full bg-sheet text-ink" aria-hidden />}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" sideOffset={4} className="z-20 min-w-[180px] border border-rule2 bg-sheet py-1">
          <p className="max-w-[260px] px-3 pb-1 text-ink2">{of}</p>
          {unlike && <p className="max-w-[260px] px-3 pb-1">Not used: it does not look like the same person here.</p>}
          {/* eslint-disable-next-line @next/next/no-img-element */}
          {info && <img src={info.small} alt="" className="mx-3 mb-1 h-[72px] w-[72px]" />}
          <DropdownMenu.Item className={ITEM} onSelect={() => onUse(use === 'kept' ? 'chosen' : 'kept')}>
            {use === 'kept' ? 'Let another take its place' : 'Keep it when others are found'}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => onUse(use === 'left' ? 'chosen' : 'left')}>
            {use === 'left' ? 'Use it again' : 'Leave it out'}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => onUse(undefined)}>
            Take it away
          </DropdownMenu.Item>
          {info?.item && (
            <DropdownMenu.Item className={ITEM} asChild>
              <Link href={`/items/${info.item}`}>Open {info.name}</Link>
            </DropdownMenu.Item>
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

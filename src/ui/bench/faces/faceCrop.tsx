'use client';

import { Download, Upload } from 'lucide-react';
import { useRef } from 'react';
import { useMutation } from '@tanstack/react-query';
import { toast } from 'sonner';
import type { LaidAnswer } from '../../../archive';
import { BROUGHT_BACK, fitsPart, placeFilling } from '../../../shared/inlay';
import { evenPart } from '../../../shared/maps/place';
import { api } from '../../parts/api';
import { placeSettings } from '../inlay/inlayActions';
import { PictureFile } from '../inlay/pictureFile';
import { addLast } from '../state/planActions';
import { useBench, useBenchStore } from '../state/store';
import { faceInOutput, type ListedFace } from './faceActions';

/** How much of what is round a face goes out with it, in its widths. */
const ROUND = 0.4;
/** A face goes out as a file that is worked on elsewhere, and comes back to where it was. */
export function FaceCrop({ face, name }: { face: ListedFace; name: string }) {
  const bench = useBenchStore();
  const item = useBench((s) => s.item.id);
  const description = useBench((s) => s.description);
  const output = useBench((s) => s.output);
  const part = faceInOutput({ description, output }, face, ROUND);
  const inlay = useBench((s) => s.treatments.find((t) => t.placing));
  const file = useRef<HTMLInputElement>(null);
  const back = useMutation({
    mutationFn: (given: File) => api<LaidAnswer>(`items/${item}/pictures`, { method: 'POST', body: given }),
    onSuccess(laid) {
      const at = part && evenPart(part, output);
      if (!at || !inlay?.placing) return;
      if (!fitsPart(laid, at)) {
        toast.error(
          `That is no crop of this face: ${at.width} x ${at.height} px went out, or would, and this has ${laid.width} x ${laid.height}.`,
        );
        return;
      }
      const place = placeSettings(placeFilling(at, description.geometry), inlay.placing);
      addLast(bench, inlay.id, { [inlay.placing.picture]: laid.picture, ...BROUGHT_BACK, ...place }, `${name} brought back`);
      toast.success('The crop lies where it was: an Inlay at the end of the plan.');
    },
    onError: (error) => toast.error(error.message),
  });
  if (!part) return null;
  const { x, y, width, height } = part;
  const query = new URLSearchParams({ x: `${x}`, y: `${y}`, width: `${width}`, height: `${height}`, name });
  return (
    <span className="flex">
      <a
        className="grid h-6 w-6 place-items-center text-ink2 hover:text-ink"
        href={`/api/items/${item}/crop?${query.toString()}`}
        download
        aria-label={`Save ${name} as a file`}
        title="Save this face as a file, to work on it elsewhere: PNG of 16 bits, as the plan makes it now"
      >
        <Download size={13} aria-hidden />
      </a>
      <button
        type="button"
        className="grid h-6 w-6 place-items-center text-ink2 hover:text-ink"
        disabled={back.isPending}
        aria-label={`Bring ${name} back from a file`}
        title="Bring it back: the file is laid where the face was, in any size"
        onClick={() => file.current?.click()}
      >
        <Upload size={13} aria-hidden />
      </button>
      <PictureFile at={file} label={`File of ${name}`} onFile={(given) => back.mutate(given)} />
    </span>
  );
}

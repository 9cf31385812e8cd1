import { useQuery } from '@tanstack/react-query';
import type { StillAccess } from '../../../shared/jobs';
import type { SizeAnswer, SizeRequest } from '../../../shared/requests';
import { api } from '../../parts/api';
import { useBench } from '../state/store';

interface SizeToldProps {
  kind: StillAccess;
  quality: number;
  /** Bytes it is to stay under. */
  under: number | undefined;
}

/** What the access copy will take, told from tiles of the result while the dialog stands open. */
export function SizeTold({ kind, quality, under }: SizeToldProps) {
  const item = useBench((s) => s.item);
  const plan = useBench((s) => s.plan);
  const runs = useBench((s) => s.description.runs);
  const { data, error, isFetching } = useQuery({
    queryKey: ['size', item.id, plan, kind, quality, under],
    queryFn: ({ signal }) =>
      api<SizeAnswer>(`items/${item.id}/size`, { method: 'POST', json: { plan, kind, quality, under } satisfies SizeRequest, signal }),
    enabled: runs && quality >= 1 && quality <= 100,
    staleTime: Infinity,
    retry: false,
  });
  return (
    <p className="mb-1 min-h-[20px] pl-[24px] text-ink2" role="status">
      {isFetching ? 'Access copy: size is being worked out from parts of the result…' : error ? error.message : data && told(data, under)}
    </p>
  );
}

/** In thousands, as the bound beside it is told. */
const text = (size: number): string => (size < 1e6 ? `${Math.round(size / 1000)} kB` : `${(size / 1e6).toFixed(1)} MB`);

function told({ bytes: size, quality, exact }: SizeAnswer, under: number | undefined): string {
  const takes = `Access copy: ${exact ? '' : 'about '}${text(size)}`;
  if (under === undefined) return `${takes}.`;
  return size > under ? `${takes} even at quality ${quality}: it will not get under ${text(under)}.` : `${takes} at quality ${quality}.`;
}

import { useQuery } from '@tanstack/react-query';
import type { FacesAnswer } from '../../../archive';
import { api } from '../../parts/api';
import { useBench } from '../state/store';
import { type ListedFace, listedFaces } from './faceActions';

/** Milliseconds between two looks at how far the faces are found. */
const AGAIN_MS = 800;

/** The faces of the bench's item as they are found. @param each what is said of them, as a setting says it. */
export function useListedFaces(each: string): { faces: ListedFace[]; words: string } {
  const item = useBench((s) => s.item.id);
  const source = useBench((s) => s.description.source);
  const { data, error } = useQuery({
    queryKey: ['faces', item],
    queryFn: () => api<FacesAnswer>(`items/${item}/faces`),
    refetchInterval: ({ state }) => ((state.data?.share ?? 0) < 1 && !state.data?.problem ? AGAIN_MS : false),
  });
  const faces = listedFaces(data?.faces ?? [], each, source);
  const words = error?.message ?? data?.problem ?? (!data || data.share < 1 ? 'being looked for' : faces.length === 0 ? 'none found' : '');
  return { faces, words };
}

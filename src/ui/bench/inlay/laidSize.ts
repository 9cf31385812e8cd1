import { useQuery } from '@tanstack/react-query';

/** Where a picture that steps lay in is fetched from. */
export const laidAddress = (picture: string): string => `/api/marks/${picture}`;

/** The size in pixels of a picture that is laid in, once its file has come; undefined where there is none. */
export function useLaidSize(picture: string): { width: number; height: number } | undefined {
  const { data } = useQuery({
    queryKey: ['laid', picture],
    enabled: picture !== '',
    staleTime: Infinity,
    async queryFn() {
      const image = new Image();
      image.src = laidAddress(picture);
      await image.decode();
      return { width: image.naturalWidth, height: image.naturalHeight };
    },
  });
  return picture ? data : undefined;
}

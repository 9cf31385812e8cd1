import { SAME_PLACE } from '../../shared/maps/place';
import type { Region, StreamInfo } from '../picture/picture';
import type { ApplyContext } from '../treatments/treatment';

/** What a treatment is told that works a region of a stream by itself. @param more what differs. */
export const contextOf = (info: StreamInfo, region: Region, more: Partial<ApplyContext> = {}): ApplyContext => ({
  ...{ frame: 0, seen: [0], region, asked: region, input: info, output: info },
  ...{ analyses: {}, pictures: {}, marks: [], place: SAME_PLACE },
  share: (make) => make(),
  ...more,
});

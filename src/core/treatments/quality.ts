import type { NetworkName } from '../networks/model';
import type { StreamInfo } from '../picture/picture';
import { ChoiceSetting } from './setting';

/** `fast` is the classical computation, `best` the network trained for the fault. */
export type Quality = 'fast' | 'best';

/** The choice between both, the same in every treatment that offers it. */
export function QualitySetting(): PropertyDecorator {
  return ChoiceSetting({
    label: 'Quality',
    options: [
      { value: 'fast', label: 'fast' },
      { value: 'best', label: 'best' },
    ],
    help: 'Best uses a small network trained for this fault: closer to the truth, and many times slower. Fast is for long films and quick looks. The seconds are what a frame is expected to take here.',
  });
}

/** Networks that clean with the neighbouring frames' help; chroma finer than 4:2:0 is cleaned frame by frame. */
export function movingNetworks({ planes, chromaShiftX, chromaShiftY }: StreamInfo): NetworkName[] {
  return planes === 1 || (chromaShiftX === 1 && chromaShiftY === 1) ? ['temporal'] : ['temporal', 'clean'];
}

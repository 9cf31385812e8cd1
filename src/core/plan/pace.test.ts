import { describe, expect, it } from 'vitest';
import { paceKey, predictedSeconds } from './pace';

describe('predictedSeconds', () => {
  const pace = { [paceKey('grain', 1)]: { fast: 0.2, best: 2 }, [paceKey('grain', 300)]: { fast: 0.1, best: 3 } };

  it('reckons seconds a million pixels up to the frame and down by the cores, stills by themselves', () => {
    const frame = { width: 2000, height: 1000 };
    expect(predictedSeconds(pace, 'grain', { ...frame, frames: 1 }, 2)).toEqual({ fast: 0.2, best: 2 });
    expect(predictedSeconds(pace, 'grain', { ...frame, frames: 25 }, 4)).toEqual({ fast: 0.05, best: 1.5 });
  });

  it('takes the effort of the settings into account', () => {
    const frame = { width: 1000, height: 1000, frames: 1 };
    expect(predictedSeconds(pace, 'grain', frame, 1, (quality) => (quality === 'best' ? 5 : 0.5))).toEqual({ fast: 0.1, best: 10 });
  });

  it('says nothing of what was not measured', () => {
    expect(predictedSeconds(pace, 'focus', { width: 10, height: 10, frames: 1 }, 2)).toBeUndefined();
    expect(predictedSeconds(undefined, 'grain', { width: 10, height: 10, frames: 1 }, 2)).toBeUndefined();
  });
});

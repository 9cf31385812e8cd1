"""Samples of the network that reads a plane's damage without being told: parts of one picture as it came, and what was done to it."""

import cv2
import numpy as np

from coded import coded
from degrade import add_grain, blurred, grain_size, halo, halve_chroma, jpeg, jpeg_step, noise_field, to_ycc
from samples import Library, aged, mixed_softness

# Shares of untouched samples and of those that come through a video codec.
CLEAN, VIDEO = 0.3, 0.2
# Parts of a picture a sample holds, downwards and sideways: grain is alike in all of them, texture is not.
ROWS, COLUMNS = 2, 3


class ConditionSamples:
    """
    Parts of a plane (ROWS * side, COLUMNS * side) over 255, of luma or of chroma, and what is to be read in them (3): deviation of
    the grain and its radius, and the quantiser step. Nothing steers: whatever is in the picture itself counts as undamaged. A radius
    of -1 is unknown.
    """

    def __init__(self, part, side, seed):
        self.side = side
        self.random = np.random.default_rng(seed)
        self.library = Library(part, 0.15)
        self.coded = [coded("photo", part), coded("drawn", part)]

    def one(self):
        return self.from_video() if self.random.random() < VIDEO else self.from_picture()

    def gathered(self, picture, side, reach):
        """Parts of `reach` pixels of a picture, reduced to `side`, beside each other; all turned alike."""
        random = self.random
        h, w = picture.shape[:2]
        k, mirror = int(random.integers(4)), random.random() < 0.5

        def part():
            y, x = (int(random.integers(max(1, extent - reach + 1))) for extent in (h, w))
            cut = np.asarray(picture[y:y + reach, x:x + reach])
            if cut.shape[:2] != (side, side):
                cut = cv2.resize(cut, (side, side), interpolation=cv2.INTER_AREA)
            cut = np.rot90(cut, k)
            return cut[:, ::-1] if mirror else cut

        return np.concatenate([np.concatenate([part() for _ in range(COLUMNS)], 1) for _ in range(ROWS)], 0).astype(np.float32)

    def from_video(self):
        random = self.random
        _, true, sent, strengths = self.coded[random.random() < 0.2]
        n, plane = random.integers(len(true)), int(random.choice([0, 0, 0, 1, 2]))
        picture = true if random.random() < 0.2 else sent
        # Chroma is repeated over its pixels there.
        thin = 1 if plane == 0 else 2
        read = (strengths[n][0 if plane == 0 else 1], -1.0, strengths[n][2]) if picture is sent else (0.0, 0.0, 0.0)
        return self.gathered(picture[n, ::thin, ::thin, plane], self.side, self.side) / 255, np.array(read, np.float32)

    def clean(self, side):
        """Parts of one picture as Y'CbCr, of any softness, as 8 bits hold them."""
        random = self.random
        rgb = self.library.pick(random)
        most = min(rgb.shape[:2]) / side
        reach = side if most < 1.1 or random.random() < 0.5 else int(side * random.uniform(1, min(2.5, most)))
        ycc = to_ycc(aged(self.gathered(rgb, side, reach), random))
        chance = random.random()
        if chance < 0.1:
            ycc = blurred(ycc, random.uniform(3, 12))
        elif chance < 0.35:
            ycc, _ = mixed_softness(ycc, random)
        elif chance > 0.85:
            # Sharpened before it came: texture stands out as far as noise does.
            ycc = halo(ycc, random.uniform(0.3, 1.5), random.uniform(0.6, 1.5))
        return np.clip(np.rint(ycc), 0, 255)

    def from_picture(self):
        random = self.random
        chroma = random.random() < 0.25
        half = random.random() < 0.6
        thin = 2 if chroma and half else 1
        out = self.clean(thin * self.side)
        kind = random.random()
        grainy = kind > CLEAN and random.random() < 0.75
        luma, colour = (28 * float(random.random()) ** 1.3, 20 * float(random.random()) ** 1.6) if grainy else (0.0, 0.0)
        size = grain_size(random) if grainy else 0.0
        own, radius = (colour, grain_size(random)) if chroma else (luma, size)
        if grainy:
            out = add_grain(out, luma, 0 if chroma else colour, random, half, size)
            if chroma:
                out = chroma_grain(out, own, radius, random, half)
        if half:
            out = halve_chroma(out)
        quality = int(random.integers(12, 97)) if kind > CLEAN and (not grainy or random.random() < 0.4) else 0
        step = 0.0
        if quality:
            # The grid lies anywhere.
            at = tuple(int(v) for v in random.integers(0, 16, 2) // 2 * 2)
            out = jpeg(np.roll(np.clip(out, 0, 255), at, (0, 1)), quality, False)
            out, step = np.roll(out, (-at[0], -at[1]), (0, 1)), jpeg_step(quality)
            if half:
                out = halve_chroma(out)
        plane = out[::thin, ::thin, int(random.choice([1, 2])) if chroma else 0]
        return np.clip(np.rint(plane), 0, 255) / np.float32(255), np.array((own, radius if own else 0, step), np.float32)


def chroma_grain(ycc, deviation, radius, random, half):
    """Noise of a known deviation and radius on both chroma planes, whose samples are coarser with `half`."""
    out = ycc.copy()
    h, w = (extent // 2 if half else extent for extent in ycc.shape[:2])
    for c in (1, 2):
        field = deviation * noise_field((h, w), radius, random)
        out[:, :, c] += field.repeat(2, 0).repeat(2, 1) if half else field
    return out

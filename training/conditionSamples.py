"""Samples of the network that reads a plane's damage without being told: the plane as it came, and what was done to it."""

import cv2
import numpy as np

from coded import coded
from degrade import add_grain, blurred, grain_size, halo, halve_chroma, jpeg, jpeg_step
from samples import Library, mixed_softness

# Shares of untouched samples and of those that come through a video codec.
CLEAN, VIDEO = 0.3, 0.2


class ConditionSamples:
    """
    A plane (side, side) over 255, of luma or of chroma, and what is to be read in it (3): deviation of its grain and the grain's
    radius, and the quantiser step. Nothing steers: whatever is in the picture itself counts as undamaged. A radius of -1 is unknown.
    """

    def __init__(self, part, side, seed):
        self.side = side
        self.random = np.random.default_rng(seed)
        self.library = Library(part, 0.15)
        self.coded = [coded("photo", part), coded("drawn", part)]

    def one(self):
        return self.from_video() if self.random.random() < VIDEO else self.from_picture()

    def from_video(self):
        random, side = self.random, self.side
        _, true, sent, strengths = self.coded[random.random() < 0.2]
        n, plane = random.integers(len(true)), int(random.choice([0, 0, 0, 1, 2]))
        picture = (true if random.random() < 0.2 else sent)
        # Chroma is repeated over its pixels there.
        thin = 1 if plane == 0 else 2
        whole = picture[n, ::thin, ::thin, plane]
        y, x = (int(random.integers(extent - side + 1)) for extent in whole.shape)
        grain = strengths[n][0 if plane == 0 else 1]
        # The radius of their grains is not kept: -1.
        read = (grain, -1.0, strengths[n][2]) if picture is sent else (0.0, 0.0, 0.0)
        return flipped(whole[y:y + side, x:x + side].astype(np.float32), random) / 255, np.array(read, np.float32)

    def from_picture(self):
        random = self.random
        chroma = random.random() < 0.25
        half = random.random() < 0.6
        thin = 2 if chroma and half else 1
        wide = thin * self.side + 16
        ycc = self.library.ycc(wide, random)
        chance = random.random()
        if chance < 0.15:
            ycc = blurred(ycc, random.uniform(3, 12))
        elif chance < 0.4:
            ycc, _ = mixed_softness(ycc, random)
        if chance > 0.85:
            # Sharpened before it came: texture stands out as far as noise does.
            ycc = halo(ycc, random.uniform(0.3, 1.5), random.uniform(0.6, 1.5))
        kind = random.random()
        grainy = kind > CLEAN and random.random() < 0.75
        luma, colour = (25 * float(random.random()) ** 1.5, 20 * float(random.random()) ** 1.8) if grainy else (0.0, 0.0)
        size = grain_size(random) if grainy else 0.0
        out, own, radius = ycc, luma, size
        if grainy:
            if chroma:
                out, own, radius = chroma_grain(ycc, colour, random, half)
                out = add_grain(out, luma, 0, random, half, size)
            else:
                out = add_grain(ycc, luma, colour, random, half, size)
        if half:
            out = halve_chroma(out)
        quality = int(random.integers(12, 97)) if kind > CLEAN and (not grainy or random.random() < 0.4) else 0
        step = 0.0
        if quality:
            out, step = jpeg(np.clip(out, 0, 255), quality, False), jpeg_step(quality)
            if half:
                out = halve_chroma(out)
        at = int(random.integers(0, 16)) // thin * thin
        plane = out[at:at + thin * self.side:thin, at:at + thin * self.side:thin, int(random.choice([1, 2])) if chroma else 0]
        return flipped(np.clip(np.rint(plane), 0, 255), random) / np.float32(255), np.array((own, radius if own else 0, step), np.float32)


def chroma_grain(ycc, deviation, random, half):
    """Noise of a known deviation and radius on both chroma planes, whose samples are coarser with `half`."""
    out = ycc.copy()
    radius = grain_size(random)
    h, w = (extent // 2 if half else extent for extent in ycc.shape[:2])
    for c in (1, 2):
        white = random.standard_normal((h, w), np.float32)
        field = cv2.GaussianBlur(white, (0, 0), radius, borderType=cv2.BORDER_REFLECT_101) if radius >= 0.2 else white
        field = field * (deviation / (field.std() + 1e-6))
        out[:, :, c] += field.repeat(2, 0).repeat(2, 1) if half else field
    return out, deviation, radius


def flipped(plane, random):
    """One of the eight turns and mirrorings."""
    plane = np.rot90(plane, int(random.integers(4)))
    return np.ascontiguousarray(plane[:, ::-1] if random.random() < 0.5 else plane)

"""Samples of the network that restores faces by another picture of the same person."""

import cv2
import numpy as np

from blemishes import smooth_noise
from degrade import LUMA, add_grain, blurred, jpeg
from faces import composite_pairs
from faceSamples import FaceSamples

# Shares of references that show somebody else, and that have another look about mouth or eyes.
STRANGERS, MOVED = 0.35, 0.4
# Deviation of what is left between two faces that were laid on one another, in parts of the frame, at most; and of mouths and eyes that moved.
APART, MOVED_BY = 0.008, 0.02
# Deviations of the Gaussians that tell the light of a face, and how strong its forms are, in parts of the frame (src/core/faces/references/light.ts).
LIGHT, AROUND = 0.04, 0.1
# How much stronger or weaker forms may be, and codes over 255 that count as none.
STRENGTH, LEAST = (0.5, 2.0), 2 / 255


def in_light(reference, face, frame):
    """The luma (h, w) of another picture in the light and with the strength of forms that a face has, in a frame of that side."""
    low = lambda plane, part: cv2.GaussianBlur(plane, (0, 0), part * frame, borderType=cv2.BORDER_REPLICATE)
    light, own = low(reference, LIGHT), low(face, LIGHT)
    forms = lambda plane: np.sqrt(np.maximum(0, low(plane ** 2, AROUND) - low(plane, AROUND) ** 2)) + LEAST
    strength = np.clip(forms(own) / forms(light), *STRENGTH)
    return own + strength * (reference - light)


def displaced(picture, by):
    """A picture whose places are moved by (2, h, w) pixels."""
    h, w = picture.shape[:2]
    y, x = np.mgrid[0:h, 0:w].astype(np.float32)
    return cv2.remap(picture, x + by[0], y + by[1], cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT_101)


def within_face(planes):
    """1 where a face's mesh lies, with a soft border, by how far across and down the frame each pixel is, -1 to 1."""
    reach = np.hypot(planes[:, :, 0] / 0.72, (planes[:, :, 1] - 0.06) / 0.88)
    return np.clip((1.05 - reach) / 0.12, 0, 1)


class ReferenceSamples(FaceSamples):
    """As FaceSamples, and the luma of another picture of the same person (side, side, 1), laid on the poor one and in its light."""

    POOLS = staticmethod(composite_pairs)

    def frame(self):
        pool = self.pools[int(self.random.random() < 0.55)]
        pair = pool[self.random.integers(len(pool))]
        if self.random.random() < STRANGERS:
            pair = np.stack([pair[0], pool[self.random.integers(len(pool)), 1]])
        both, *where = self.placed(np.dstack([pair[0], pair[1] @ LUMA]).astype(np.float32))
        self.other = both[:, :, 3]
        return both[:, :, :3], *where

    def one(self):
        made, planes, truth, marked = super().one()
        frame = self.side / (np.ptp(planes[:, :, 0]) / 2)
        other = self.seen(self.other, planes, marked[:, :, 0], frame)
        # Beyond the face it has nothing to say.
        over = within_face(planes)
        other = made[:, :, 0] + over * (in_light(other, made[:, :, 0], frame) - made[:, :, 0])
        return made, planes, truth, marked, other[:, :, None].astype(np.float32)

    def seen(self, luma, planes, marked, frame):
        """What another photograph shows of that face: in a light of its own, sharper than the poor one, its features moved."""
        random, side = self.random, self.side
        across, down = planes[:, :, 0], planes[:, :, 1]
        light = random.uniform(0.7, 1.3) + random.normal(0, 0.25) * across + random.normal(0, 0.18) * down
        luma = np.clip(luma * light, 0, 255)
        luma = 255 * (luma / 255) ** random.uniform(0.7, 1.4)
        by = np.stack([smooth_noise((side, side), frame * random.uniform(0.05, 0.2), random) for _ in range(2)]) * frame * APART * random.random()
        if random.random() < MOVED:
            moved = np.stack([smooth_noise((side, side), frame * random.uniform(0.06, 0.2), random) for _ in range(2)])
            by = by + moved * MOVED_BY * frame * random.random() * marked
        luma = displaced(luma.astype(np.float32), by.astype(np.float32))
        # How much coarser than the frame it is.
        coarse = random.uniform(1, 2.2) if random.random() < 0.6 else 1
        if coarse > 1.05:
            small = cv2.resize(luma, None, fx=1 / coarse, fy=1 / coarse, interpolation=cv2.INTER_AREA)
            luma = cv2.resize(small, (side, side), interpolation=cv2.INTER_CUBIC)
        ycc = np.repeat(blurred(luma, random.uniform(0, 0.9) if random.random() < 0.5 else 0)[:, :, None], 3, 2)
        ycc[:, :, 1:] = 128
        ycc = add_grain(ycc, random.uniform(0, 6) * random.random(), 0, random, False, 0.0)
        if random.random() < 0.4:
            ycc = jpeg(np.clip(ycc, 0, 255), int(random.integers(60, 97)), True)
        return (ycc[:, :, 0] / 255).astype(np.float32)

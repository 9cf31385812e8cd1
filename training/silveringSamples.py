"""Samples of the network that finds silver come to the surface of a print."""

import numpy as np

from blemishes import DRAWN, KINDS, smooth_noise
from blemishSamples import BlemishSamples, bordered

# A pixel is veiled when it is changed by so many codes of 255, and clear when by less than the second.
VEILED, CLEAR = 8, 2
# Reach of the veil from an edge, in pixels of the reduced picture.
REACH = 4, 90
# Shares of prints without silvering; with other damage; that lie on a card or a scanner's lid; and that have haze instead, which is no silvering.
CLEAN, OTHERS, MOUNTED, HAZY = 0.4, 0.2, 0.25, 0.3


def edges_of(h, w, random):
    """Distance in pixels from each edge that is silvered, each its own reach: from one edge, or from most."""
    y, x = np.mgrid[0:h, 0:w].astype(np.float32)
    distances = [x, w - 1 - x, y, h - 1 - y]
    count = int(random.choice([1, 2, 3, 4], p=[0.45, 0.15, 0.15, 0.25]))
    return [distances[i] for i in random.choice(4, count, replace=False)]


def darkness(rgb, random):
    """How readily each place is silvered: where there is the most silver, and on paper white hardly at all; 0 to 1."""
    dark = 1 - rgb.mean(2) / 255
    chance = random.random()
    if chance < 0.5:
        return np.clip(dark + random.uniform(0.05, 0.2), 0, 1)
    if chance < 0.75:
        step = np.clip((dark - 0.25) / 0.6, 0, 1)
        return 0.25 + 0.75 * step * step * (3 - 2 * step)
    return np.clip(dark, 0, 1) ** random.uniform(0.7, 2)


def sheen(random):
    """The veil's colour: bluish grey, and as the scan was made neutral or warmer."""
    level = random.uniform(105, 215)
    if random.random() < 0.8:
        return level * np.array([random.uniform(0.83, 1), random.uniform(0.92, 1.02), random.uniform(1, 1.16)])
    return level * np.array([random.uniform(0.95, 1.1), 1, random.uniform(0.88, 1)])


def veiled(rgb, cover, random):
    """A veil of metal of such a cover, 0 to 1, over what is dark."""
    cover = (cover * darkness(rgb, random) * random.uniform(0.15, 0.9)).astype(np.float32)[:, :, None]
    return rgb + cover * (sheen(random).astype(np.float32) - rgb)


def mirrored(rgb, random):
    """Silver come to the surface from the edges inwards, unevenly."""
    h, w = rgb.shape[:2]
    cover = np.zeros((h, w), np.float32)
    clouds = smooth_noise((h, w), random.uniform(2, 24), random)
    for distance in edges_of(h, w, random):
        wide = float(np.exp(random.uniform(*np.log(REACH))))
        cover = np.maximum(cover, (wide - distance) / (wide * random.uniform(0.15, 0.95)) + random.uniform(0.1, 0.5) * clouds)
    return veiled(rgb, np.clip(cover, 0, 1), random)


def hazy(rgb, random):
    """Lighter all over, or from one side far into the picture, as lenses and weather make it: no silvering."""
    h, w = rgb.shape[:2]
    y, x = np.mgrid[0:h, 0:w].astype(np.float32)
    angle = random.uniform(0, 2 * np.pi)
    along = ((x / w - 0.5) * np.cos(angle) + (y / h - 0.5) * np.sin(angle)) * random.uniform(0, 1.4) + random.uniform(0.2, 1)
    cover = (np.clip(along, 0, 1) * random.uniform(0.05, 0.5)).astype(np.float32)[:, :, None]
    return rgb + cover * (sheen(random).astype(np.float32) - rgb)


class SilveringSamples(BlemishSamples):
    """Y'CbCr over 255 as the program looks at a whole print, reduced: damaged (side, side, 3), as it was, where it is veiled (side, side, 1), where that is certain."""

    SIZE = 0.5

    def harmed(self, whole, scale):
        random = self.random
        if random.random() < HAZY:
            whole = hazy(whole, random)
        damaged = whole
        for kind in random.choice(KINDS, int(random.random() < OTHERS), replace=False):
            damaged = whole = np.clip(DRAWN[str(kind)](whole, random, scale)[0], 0, 255).astype(np.float32)
        if random.random() >= CLEAN:
            damaged = np.clip(mirrored(whole, random), 0, 255).astype(np.float32)
        if random.random() < MOUNTED:
            # The same mount round both.
            seed = int(random.integers(1 << 31))
            damaged, whole = (bordered(picture, np.random.default_rng(seed)) for picture in (damaged, whole))
        changed = np.abs(damaged - whole).max(2, keepdims=True)
        return damaged, whole, (changed >= VEILED).astype(np.float32), ((changed >= VEILED) | (changed < CLEAR)).astype(np.float32)[:, :, 0]

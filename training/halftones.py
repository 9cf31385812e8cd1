"""Printing screens over pictures with their truth, as a scanner sees them: one ink or four, clustered dots (ISO 12647 has their angles)."""

import cv2
import numpy as np

from degrade import LUMA

# Degrees of cyan, magenta, yellow and black.
ANGLES = (15.0, 75.0, 0.0, 45.0)
# Dots are drawn so many times finer than the scan.
FINER = 3


# Shares of a screen's cells under so many heights of its waves, evenly from -1 to 1.
_waves = np.cos(2 * np.pi * (np.arange(1000) + 0.5) / 1000)
HEIGHTS = np.linspace(-1, 1, 1025)
RANKS = np.searchsorted(np.sort(np.add.outer(_waves, _waves).ravel() / 2), HEIGHTS) / 1e6


class Screen:
    """An ink's screen: dots of `period` pixels in rows turned by `angle` degrees, `oblong` as their two waves differ."""

    def __init__(self, period, angle, random):
        self.period, self.angle, self.phase = period, angle, random.uniform(0, 1, 2)
        self.oblong = random.uniform(0, 0.3) if random.random() < 0.3 else 0.0

    def waves(self, shape, finer=1):
        """Height of the two waves at the samples of a raster that is so many times finer, each (h, w)."""
        at = lambda n: (np.arange(n, dtype=np.float32) + 0.5) / finer
        y, x = at(shape[0])[:, None], at(shape[1])[None]
        c, s = np.cos(np.radians(self.angle)), np.sin(np.radians(self.angle))
        u, v = (x * c + y * s) / self.period + self.phase[0], (y * c - x * s) / self.period + self.phase[1]
        return np.cos(2 * np.pi * u), np.cos(2 * np.pi * v)

    def threshold(self, shape, finer=1):
        """How far an ink must cover to lie at each sample, (h, w), 0 to 1 and evenly spread over a cell."""
        across, down = self.waves(shape, finer)
        return np.interp((across + down) / 2, HEIGHTS, RANKS).astype(np.float32)

    def printed(self, cover):
        """Where the ink lies (h, w), 0 to 1, for how far it shall cover (h, w)."""
        h, w = cover.shape
        fine = cv2.resize(cover, (w * FINER, h * FINER), interpolation=cv2.INTER_LINEAR)
        if self.oblong:
            across, down = self.waves(fine.shape, FINER)
            spot = across + (1 - self.oblong) * down
            known = np.sort(spot[::5, ::5].ravel())
            threshold = np.searchsorted(known, spot).astype(np.float32) / len(known)
        else:
            threshold = self.threshold(fine.shape, FINER)
        return cv2.resize((threshold < fine).astype(np.float32), (w, h), interpolation=cv2.INTER_AREA)


def screened(rgb, period, random, inks, turn=0.0):
    """
    RGB floats (h, w, 3) printed with 1 or 4 inks at `period` pixels, turned on the scanner's glass by `turn` degrees, and scanned; and
    the screens: black's, and with four inks those of cyan, magenta and yellow after it.
    """
    light = np.clip(rgb / 255, 0, 1)
    black = Screen(period, ANGLES[3] + turn, random)
    if inks == 1:
        screens = [black]
        cover = 1 - light @ LUMA
        out = np.repeat((1 - black.printed(cover))[:, :, None], 3, 2)
    else:
        screens = [black] + [Screen(period, ANGLES[c] + turn, random) for c in range(3)]
        inky = 1 - light
        key = 0.7 * inky.min(2)
        out = np.repeat(1 - black.printed(key)[:, :, None], 3, 2)
        for c in range(3):
            out[:, :, c] *= 1 - screens[1 + c].printed((inky[:, :, c] - key) / (1 - key + 1e-4))
    sigma = random.uniform(0.35, 0.7)
    return cv2.GaussianBlur(out.astype(np.float32), (0, 0), sigma) * 255, screens

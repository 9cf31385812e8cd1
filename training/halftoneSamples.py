"""Samples of the network that takes printing screens away."""

import cv2
import numpy as np

from degrade import add_grain, jpeg, to_ycc, without_colour
from halftones import screened
from samples import Library, jitter

# Periods of the screens in pixels: 65 to 175 lines an inch, scanned at 400 to 700 pixels an inch.
PERIODS = (2.6, 10.5)
# Pixels of a period that stand for 1 in the steering plane.
PERIOD_UNIT = 8.0
# Share of samples without a screen, which must stay as they are, and of those whose screens are not known.
PLAIN, UNKNOWN = 0.06, 0.06
# Shares of a period that a measured screen is off by, and degrees: thresholds measured on pages are off by 0.001 to 0.006.
OFF, TURNED = 0.003, 0.03


class HalftoneSamples:
    """
    Screened Y'CbCr (side, side, 3), planes (side, side, 5) of the thresholds of black, cyan, magenta and yellow less a half, nought where
    there is no such screen, and of the period, truth (side, side, 3); pictures over 255.
    """

    def __init__(self, part, side, seed):
        self.side = side
        self.random = np.random.default_rng(seed)
        self.library = Library(part, 0.1)

    def one(self):
        random, side, edge = self.random, self.side, 8
        rgb = self.library.patch(side + 2 * edge, random)
        grey = random.random() < 0.4
        if grey:
            rgb = without_colour(rgb)
        # Prints seldom hold finer things than their screen.
        period = float(np.exp(random.uniform(*np.log(PERIODS))))
        if random.random() < 0.7:
            rgb = cv2.GaussianBlur(rgb, (0, 0), period * random.uniform(0.05, 0.3) + 0.01)
        truth = to_ycc(rgb)
        screens = []
        if random.random() < PLAIN:
            out = truth
        else:
            # Ink and paper are not black and white.
            low, high = random.uniform(0, 30), random.uniform(225, 255)
            spread = (high - low) / 255
            page, screens = screened(rgb, period, random, 1 if grey else 4, random.uniform(-45, 45))
            out = to_ycc(low + spread * page)
            truth = to_ycc(low + spread * rgb)
            if random.random() < 0.4:
                out = add_grain(out, random.uniform(0, 5), random.uniform(0, 3), random, False)
            if random.random() < 0.25:
                out = jpeg(np.clip(out, 0, 255), int(random.integers(70, 97)))
        inner = slice(edge, edge + side)
        planes = np.zeros((side + 2 * edge, side + 2 * edge, 5), np.float32)
        if random.random() >= UNKNOWN:
            for n, screen in enumerate(screens):
                screen.phase = screen.phase + random.normal(0, OFF, 2)
                screen.angle += random.normal(0, TURNED)
                planes[:, :, n] = screen.threshold(planes.shape) - 0.5
        planes[:, :, 4] = jitter(period, random) / PERIOD_UNIT
        cut = lambda a: np.ascontiguousarray(a[inner, inner], np.float32)
        return cut(out) / 255, cut(planes), cut(truth) / 255

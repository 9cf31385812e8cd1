"""Printing screens over pictures with their truth, as a scanner sees them: one ink or four, clustered dots (ISO 12647 has their angles)."""

import cv2
import numpy as np

# Degrees of cyan, magenta, yellow and black.
ANGLES = (15.0, 75.0, 0.0, 45.0)
# Dots are drawn so many times finer than the scan.
FINER = 3


def dots(shape, period, angle, phase):
    """A screen's threshold, 0 to 1 and evenly spread: round dots of `period` pixels at `angle` degrees."""
    y, x = np.mgrid[0:shape[0], 0:shape[1]].astype(np.float32) / FINER
    c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))
    u, v = (x * c + y * s) / period + phase[0], (y * c - x * s) / period + phase[1]
    spot = (np.cos(2 * np.pi * u) + np.cos(2 * np.pi * v)) / 4 + 0.5
    known = np.sort(spot[::5, ::5].ravel())
    return np.searchsorted(known, spot).astype(np.float32) / len(known)


def printed(cover, period, angle, random):
    """Where an ink lies (h, w), 0 to 1, for how far it shall cover (h, w)."""
    h, w = cover.shape
    fine = cv2.resize(cover, (w * FINER, h * FINER), interpolation=cv2.INTER_LINEAR)
    ink = (dots(fine.shape, period, angle, random.uniform(0, 1, 2)) < fine).astype(np.float32)
    return cv2.resize(ink, (w, h), interpolation=cv2.INTER_AREA)


def screened(rgb, period, random, inks, turn=0.0):
    """RGB floats (h, w, 3) printed with 1 or 4 inks at `period` pixels, turned on the scanner's glass by `turn` degrees, and scanned."""
    light = np.clip(rgb / 255, 0, 1)
    if inks == 1:
        cover = 1 - light @ np.array([0.299, 0.587, 0.114], np.float32)
        out = np.repeat((1 - printed(cover, period, ANGLES[3] + turn, random))[:, :, None], 3, 2)
    else:
        inky = 1 - light
        black = 0.7 * inky.min(2)
        covers = [(inky[:, :, c] - black) / (1 - black + 1e-4) for c in range(3)]
        out = np.ones_like(light)
        for c in range(3):
            out[:, :, c] *= 1 - printed(covers[c], period, ANGLES[c] + turn, random)
        out *= 1 - printed(black, period, ANGLES[3] + turn, random)[:, :, None]
    sigma = random.uniform(0.35, 0.7)
    return cv2.GaussianBlur(out.astype(np.float32), (0, 0), sigma) * 255

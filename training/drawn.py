"""Made-up drawn frames: flat and shaded shapes with inked outlines, thin diagonals, lettering, hatching."""

import os

import cv2
import numpy as np

from sources import work_folder

COUNT = 160
FONTS = [cv2.FONT_HERSHEY_SIMPLEX, cv2.FONT_HERSHEY_COMPLEX, cv2.FONT_HERSHEY_SCRIPT_COMPLEX, cv2.FONT_HERSHEY_TRIPLEX]
SYLLABLES = "mar low pel quay tin ra shen ol wic bry ther es and of the to har bour lan tern".split()
SIDE, FINER = 640, 3


def colour(random):
    base = random.uniform(10, 245, 3)
    return tuple(float(v) for v in (base if random.random() < 0.8 else np.full(3, base[0])))


def curve(random, points):
    """A closed smooth outline (Fourier series of a few harmonics)."""
    t = np.linspace(0, 2 * np.pi, points, endpoint=False)
    radius = random.uniform(20, 260) * FINER
    shape = np.zeros((points, 2))
    for k in range(1, 5):
        a, b = random.normal(0, 1 / k ** 1.6, (2, 2))
        shape += a * np.cos(k * t)[:, None] + b * np.sin(k * t)[:, None]
    return (shape * radius * 0.6 + random.uniform(0, SIDE * FINER, 2)).astype(np.int32)


def frame(seed):
    """One frame, (640, 640, 3) RGB."""
    random = np.random.default_rng(seed)
    side = SIDE * FINER
    x = np.linspace(0, 1, side, dtype=np.float32)
    a, b = (np.array(colour(random), np.float32) for _ in range(2))
    if random.random() < 0.5:
        b = a
    picture = np.ascontiguousarray(np.broadcast_to((a + (b - a) * x[:, None])[:, None, :], (side, side, 3)))
    ink = tuple(float(v) for v in random.uniform(0, 50, 3))
    outline = int(random.uniform(1, 4) * FINER)
    for _ in range(random.integers(6, 26)):
        shape = curve(random, 90)
        cv2.fillPoly(picture, [shape], colour(random), cv2.LINE_AA)
        if random.random() < 0.4:
            shade = shape + (random.uniform(-30, 30, 2) * FINER).astype(np.int32)
            mask = np.zeros((side, side), np.uint8)
            cv2.fillPoly(mask, [shape], 255)
            cut = np.zeros_like(mask)
            cv2.fillPoly(cut, [shade], 255)
            picture[(mask > 0) & (cut == 0)] *= 0.75
        if random.random() < 0.85:
            cv2.polylines(picture, [shape], True, ink, outline, cv2.LINE_AA)
    for _ in range(random.integers(0, 14)):
        p, q = (tuple(int(v) for v in random.uniform(0, side, 2)) for _ in range(2))
        cv2.line(picture, p, q, ink if random.random() < 0.6 else colour(random), int(random.uniform(0.7, 3.2) * FINER), cv2.LINE_AA)
    for _ in range(random.integers(0, 9)):
        words = " ".join(random.choice(SYLLABLES, random.integers(1, 5)))
        size = random.uniform(0.35, 2.2)
        at = tuple(int(v) for v in random.uniform(0, side * 0.9, 2))
        face = int(random.choice(FONTS))
        if random.random() < 0.4:
            cv2.putText(picture, words, at, face, size * FINER, (0, 0, 0), int((size * 1.5 + 3) * FINER), cv2.LINE_AA)
            cv2.putText(picture, words, at, face, size * FINER, (250, 250, 250), int(size * 1.5 * FINER), cv2.LINE_AA)
        else:
            cv2.putText(picture, words, at, face, size * FINER, colour(random), max(1, int(size * 1.3 * FINER)), cv2.LINE_AA)
    if random.random() < 0.3:
        step, tilt = random.uniform(5, 16) * FINER, random.uniform(-2, 2)
        x0, y0 = random.uniform(0, side * 0.6, 2)
        for k in range(20):
            p = (int(x0 + k * step), int(y0))
            cv2.line(picture, p, (int(p[0] + tilt * 90 * FINER), int(y0 + 160 * FINER)), ink, FINER + 1, cv2.LINE_AA)
    return np.clip(cv2.resize(picture, (SIDE, SIDE), interpolation=cv2.INTER_AREA), 0, 255).astype(np.uint8)


def drawn_frames(part):
    """Frames for 'train', or other ones 'held' out."""
    file = os.path.join(work_folder(), f"drawn-{part}.npy")
    if not os.path.exists(file):
        first, count = (0, COUNT) if part == "train" else (100000, COUNT // 8)
        np.save(file, np.stack([frame(first + n) for n in range(count)]))
    return list(np.load(file, mmap_mode="r"))

"""Made-up motion: pictures that move as layers over each other, behind soft-edged cut-outs."""

import cv2
import numpy as np

from degrade import blurred


class Layer:
    """A picture under an affine path; a calm one stands still more often."""

    def __init__(self, rgb, random, calm, size, finest=0.7):
        self.rgb, self.size = np.asarray(rgb), size
        h, w = self.rgb.shape[:2]
        self.scale = min(1.0, w / (size[0] + 40), h / (size[1] + 40)) * random.uniform(finest, 1)
        fast = 0.0 if random.random() < 0.4 * calm else random.choice([0.4, 2, 6, 14]) * random.random()
        a = random.uniform(0, 2 * np.pi)
        self.speed = np.array([np.cos(a), np.sin(a)]) * fast
        self.bend = random.normal(0, 0.03, 2) * fast
        self.turn = random.normal(0, 0.01) if fast and random.random() < 0.4 else 0.0
        self.grow = random.normal(0, 0.008) if fast and random.random() < 0.4 else 0.0
        room = np.array([max(1, w - size[0] * self.scale), max(1, h - size[1] * self.scale)])
        self.start = random.uniform(0, 1, 2) * room

    def matrix(self, t):
        s, a = self.scale * np.exp(self.grow * t), self.turn * t
        c, n = np.cos(a) * s, np.sin(a) * s
        at = self.start + (self.speed * t + self.bend * t * t) * self.scale
        return np.array([[c, -n, at[0]], [n, c, at[1]]])

    def at(self, t):
        return cv2.warpAffine(self.rgb, self.matrix(t), self.size, flags=cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP, borderMode=cv2.BORDER_REFLECT_101)


def blob(random, size):
    """A soft-edged cut-out, drawn large enough to move about."""
    width, height = size
    big = np.zeros((height * 3, width * 3), np.float32)
    t = np.linspace(0, 2 * np.pi, 60, endpoint=False)
    radius = random.uniform(20, 90) * max(1, height / 256) * (1 + 0.35 * np.sin(t * random.integers(1, 5) + random.uniform(0, 6)))
    points = np.stack([width * 1.5 + radius * np.cos(t) * random.uniform(0.5, 1.5), height * 1.5 + radius * np.sin(t)], 1)
    cv2.fillPoly(big, [points.astype(np.int32)], 1.0, cv2.LINE_AA)
    return blurred(big, random.uniform(0.4, 2.5))


def clip(pick, random, frames, size, finest=0.7):
    """
    (frames, height, width, 3) RGB floats of `size` (width, height); `pick()` gives a picture, `finest` how many of its pixels
    a pixel shows at least: the fewer, the softer.
    """
    calm = random.random() < 0.5
    back = Layer(pick(), random, 2.0 if calm else 0.6, size, finest)
    parts = []
    for _ in range(random.integers(0, 4)):
        layer, mask = Layer(pick(), random, 0.5, size, finest), blob(random, size)
        a, fast = random.uniform(0, 2 * np.pi), random.choice([0.3, 2, 5, 11]) * random.random()
        parts.append((layer, mask, random.uniform(-0.4, 0.4, 2) * size, np.array([np.cos(a), np.sin(a)]) * fast))
    out = []
    for t in range(frames):
        picture = back.at(t).astype(np.float32)
        for layer, mask, at, speed in parts:
            x, y = at + speed * t
            m = cv2.warpAffine(mask, np.array([[1, 0, x - size[0]], [0, 1, y - size[1]]], np.float32), size, flags=cv2.INTER_LINEAR)
            picture += m[:, :, None] * (layer.at(t) - picture)
        out.append(picture)
    if random.random() < 0.5:
        out.reverse()
    return np.stack(out)

"""Samples of the two networks that look at time; their clips are made and prepared beforehand (clips.py, prepare.ts)."""

import json

import numpy as np

from clips import prepared
from samples import BLUR_UNIT, GRAIN_UNIT, SIZE_UNIT, STEP_UNIT, jitter


def shape_of(base):
    with open(base + ".json") as file:
        return json.load(file)


class FieldSamples:
    """
    A field's missing lines: `planes` (6, lines, width) are the own lines, the fast choice for the missing ones, the lines
    there in the fields before and after, the own parity's lines two fields before and after; truth (lines, width).
    """

    def __init__(self, part, side, seed):
        base = prepared("fields", part)
        s = shape_of(base)
        size = (s["height"], s["width"])
        self.true = np.memmap(base + ".true", np.uint8, "r", shape=(s["clips"], s["frames"], *size))
        self.fast = np.memmap(base + ".prepared", np.uint8, "r", shape=(s["clips"], 4, *size))
        self.lines, self.width = side, 2 * side
        self.random = np.random.default_rng(seed)

    def one(self):
        random = self.random
        for _ in range(6):
            n, k = random.integers(len(self.true)), int(random.integers(2, 6))
            own, missing = k & 1, 1 - (k & 1)
            y = int(random.integers(self.true.shape[2] // 2 - self.lines + 1))
            x = int(random.integers(self.true.shape[3] - self.width + 1))
            cut = lambda stack, t, parity: stack[n, t, 2 * y + parity:2 * (y + self.lines):2, x:x + self.width]
            truth = cut(self.true, k, missing)
            # What the fast choice has right already teaches little.
            wrong = np.abs(truth.astype(np.int16) - cut(self.fast, k - 2, missing)).mean()
            if wrong > 0.6 or random.random() < 0.25:
                break
        before, after = (k - 1, k + 1), (k - 2, k + 2)
        if random.random() < 0.5:
            before, after = before[::-1], after[::-1]
        stack = np.stack([cut(self.true, k, own), cut(self.fast, k - 2, missing), *(cut(self.true, t, missing) for t in before),
                          *(cut(self.true, t, own) for t in after), truth]).astype(np.float32) / 255
        # A bottom field is turned upside down, so that the missing line always follows its own.
        if own == 1:
            stack = stack[:, ::-1]
        if random.random() < 0.5:
            stack = stack[:, :, ::-1]
        if random.random() < 0.2:
            stack = 1 - stack
        return np.ascontiguousarray(stack[:6]), np.ascontiguousarray(stack[6])


class TemporalSamples:
    """
    Luma (5, side, side) and chroma (5, 2, side / 2, side / 2) of five frames, five strengths as of `CleanSamples`, the fast
    choice's luma and chroma of the middle frame, its true luma and chroma.
    """

    UNITS = np.array([GRAIN_UNIT, GRAIN_UNIT, STEP_UNIT, BLUR_UNIT, SIZE_UNIT], np.float32)

    def __init__(self, part, side, seed):
        base = prepared("temporal", part)
        s = shape_of(base)
        self.height, self.width, self.frames = s["height"], s["width"], s["frames"]
        bytes_ = self.height * self.width * 3 // 2
        # Behind the frames comes the middle one as the fast choice cleans it.
        self.input = np.memmap(base + ".prepared", np.uint8, "r", shape=(s["clips"], self.frames + 1, bytes_))
        self.true = np.memmap(base + ".true", np.uint8, "r", shape=(s["clips"], bytes_))
        self.strengths = np.fromfile(base + ".strengths", np.float32).reshape(-1, 5)
        self.side = side
        self.random = np.random.default_rng(seed)

    def cut(self, frame, y, x):
        h, w, side = self.height, self.width, self.side
        luma = frame[:h * w].reshape(h, w)[y:y + side, x:x + side]
        chroma = frame[h * w:].reshape(2, h // 2, w // 2)[:, y // 2:(y + side) // 2, x // 2:(x + side) // 2]
        return luma, chroma

    def one(self):
        random, side = self.random, self.side
        n = int(random.integers(len(self.true)))
        y, x = (2 * int(random.integers((extent - side) // 2 + 1)) for extent in (self.height, self.width))
        order = [0, 1, 2, 3, 4]
        fate = random.random()
        if fate < 0.1:
            # At a clip's start the frames before are those after, once more.
            order = [4, 3, 2, 3, 4]
        elif fate < 0.3:
            order = order[::-1]
        pairs = [self.cut(self.input[n, t], y, x) for t in order]
        if random.random() < 0.08:
            # A change of scene: what was before has nothing to do with it.
            other = int(random.integers(len(self.true)))
            pairs[:2] = [self.cut(self.input[other, t], y, x) for t in order[:2]]
        pairs += [self.cut(self.input[n, 5], y, x), self.cut(self.true[n], y, x)]
        lumas = np.stack([p[0] for p in pairs]).astype(np.float32) / 255
        chromas = np.stack([p[1] for p in pairs]).astype(np.float32) / 255
        k, mirror = int(random.integers(4)), random.random() < 0.5
        lumas, chromas = (np.rot90(a, k, (-2, -1)) for a in (lumas, chromas))
        if mirror:
            lumas, chromas = lumas[..., ::-1], chromas[..., ::-1]
        steer = np.minimum(np.array([jitter(v, random) for v in self.strengths[n]], np.float32) / self.UNITS, 1.5)
        parts = (lumas[:5], chromas[:5], steer, lumas[5:6], chromas[5], lumas[6:], chromas[6])
        return tuple(np.ascontiguousarray(a) for a in parts)

"""
Made-up motion with known truth: layers cut from training pictures, moving over each other. Two sets:
  fields    luma at field rate; the program's fast deinterlacing of it is added by prepare.ts;
  temporal  4:2:0 frames with grain, some blurred, some through a video codec; prepare.ts adds the neighbours laid over
            the middle frame by their motion, and the program's fast removal of its grain.
Raw 8-bit planes, frame after frame, with a JSON description beside them.
"""

import json
import os
import subprocess
import sys

import cv2
import numpy as np

from coded import codec, through
from degrade import add_grain, blurred, grain_size, halve_chroma, to_ycc
from samples import Library, aged, strength
from sources import collect, work_folder

WIDTH, HEIGHT = 256, 192
HERE = os.path.dirname(os.path.abspath(__file__))
SETS = {"fields": {"frames": 8, "train": 1500, "held": 60}, "temporal": {"frames": 5, "train": 1500, "held": 60}}


class Layer:
    """A picture under an affine path; `hold` frames stand still at random."""

    def __init__(self, rgb, random, calm):
        self.rgb = np.asarray(rgb)
        h, w = self.rgb.shape[:2]
        self.scale = min(1.0, w / (WIDTH + 40), h / (HEIGHT + 40)) * random.uniform(0.7, 1)
        fast = 0.0 if random.random() < 0.4 * calm else random.choice([0.4, 2, 6, 14]) * random.random()
        a = random.uniform(0, 2 * np.pi)
        self.speed = np.array([np.cos(a), np.sin(a)]) * fast
        self.bend = random.normal(0, 0.03, 2) * fast
        self.turn = random.normal(0, 0.01) if fast and random.random() < 0.4 else 0.0
        self.grow = random.normal(0, 0.008) if fast and random.random() < 0.4 else 0.0
        room = np.array([max(1, w - WIDTH * self.scale), max(1, h - HEIGHT * self.scale)])
        self.start = random.uniform(0, 1, 2) * room

    def matrix(self, t):
        s, a = self.scale * np.exp(self.grow * t), self.turn * t
        c, n = np.cos(a) * s, np.sin(a) * s
        at = self.start + (self.speed * t + self.bend * t * t) * self.scale
        return np.array([[c, -n, at[0]], [n, c, at[1]]])

    def at(self, t):
        # Reduced through a finer raster, so that the layer does not alias: fields would carry that as motion.
        return cv2.warpAffine(self.rgb, self.matrix(t), (WIDTH, HEIGHT), flags=cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP, borderMode=cv2.BORDER_REFLECT_101)


def blob(random):
    """A soft-edged cut-out, drawn large enough to move about."""
    big = np.zeros((HEIGHT * 3, WIDTH * 3), np.float32)
    t = np.linspace(0, 2 * np.pi, 60, endpoint=False)
    radius = random.uniform(20, 90) * (1 + 0.35 * np.sin(t * random.integers(1, 5) + random.uniform(0, 6)))
    points = np.stack([WIDTH * 1.5 + radius * np.cos(t) * random.uniform(0.5, 1.5), HEIGHT * 1.5 + radius * np.sin(t)], 1)
    cv2.fillPoly(big, [points.astype(np.int32)], 1.0, cv2.LINE_AA)
    return blurred(big, random.uniform(0.4, 2.5))


def clip(library, random, frames):
    """(frames, height, width, 3) RGB floats."""
    calm = random.random() < 0.5
    back = Layer(library.pick(random), random, 2.0 if calm else 0.6)
    parts = []
    for _ in range(random.integers(0, 4)):
        layer, mask = Layer(library.pick(random), random, 0.5), blob(random)
        a, fast = random.uniform(0, 2 * np.pi), random.choice([0.3, 2, 5, 11]) * random.random()
        parts.append((layer, mask, random.uniform(-0.4, 0.4, 2) * (WIDTH, HEIGHT), np.array([np.cos(a), np.sin(a)]) * fast))
    out = []
    for t in range(frames):
        picture = back.at(t).astype(np.float32)
        for layer, mask, at, speed in parts:
            x, y = at + speed * t
            m = cv2.warpAffine(mask, np.array([[1, 0, x - WIDTH], [0, 1, y - HEIGHT]], np.float32), (WIDTH, HEIGHT), flags=cv2.INTER_LINEAR)
            picture += m[:, :, None] * (layer.at(t) - picture)
        out.append(picture)
    if random.random() < 0.5:
        out.reverse()
    return np.stack(out)


def bytes_of(plane):
    return np.clip(np.rint(plane), 0, 255).astype(np.uint8).tobytes()


def planes_of(ycc):
    return b"".join((bytes_of(ycc[:, :, 0]), bytes_of(ycc[::2, ::2, 1]), bytes_of(ycc[::2, ::2, 2])))


def make(kind, part):
    base = os.path.join(work_folder(), f"{kind}-{part}")
    frames, count = SETS[kind]["frames"], SETS[kind][part]
    random = np.random.default_rng({"fields": 31, "temporal": 41}[kind] + (0 if part == "train" else 500))
    library = Library(part, 0.15)
    strengths = []
    with open(base + ".true", "wb") as true, open(base + ".damaged", "wb") as damaged:
        for _ in range(count):
            rgb = aged_clip(clip(library, random, frames), random)
            if kind == "fields":
                soft, grain = random.random() < 0.3, strength(random, 6, 0.3)
                for picture in rgb:
                    luma = to_ycc(picture)[:, :, 0]
                    if soft:
                        luma = cv2.GaussianBlur(luma, (1, 3), sigmaX=0.1, sigmaY=0.5)
                    true.write(bytes_of(luma + grain * random.standard_normal(luma.shape, np.float32)))
                continue
            sent, true_frame, known = harmed(rgb, random)
            true.write(true_frame)
            damaged.write(sent)
            strengths.append(known)
    np.array(strengths, np.float32).tofile(base + ".strengths")
    with open(base + ".json", "w") as out:
        json.dump({"width": WIDTH, "height": HEIGHT, "frames": frames, "clips": count}, out)


def harmed(rgb, random):
    """Frames with grain and other damage, the middle one's truth, both as bytes, and the damage: grain luma, chroma, step, blur, size."""
    luma, chroma = strength(random, 30, 0.92), strength(random, 22, 0.7)
    size = grain_size(random) if luma else 0.0
    blur = random.uniform(0.3, 1.2) if random.random() < 0.15 else 0.0
    disc, seed = random.random() < 0.3, random.integers(1 << 30)
    sent = []
    for t, picture in enumerate(rgb):
        ycc = halve_chroma(to_ycc(picture))
        if t == len(rgb) // 2:
            truth = planes_of(ycc)
        # The same kind of grain in all frames, other grains in each.
        own = Grains(np.random.default_rng(seed), seed + 1 + t)
        sent.append(planes_of(add_grain(blurred(ycc, blur, disc), luma, chroma, own, True, size)))
    sent, step = b"".join(sent), 0.0
    if random.random() < 0.25:
        arguments, step = codec(random)
        sent = through(sent, arguments, WIDTH, HEIGHT)
    return sent, truth, (luma, chroma, step, blur, size)


class Grains:
    """Choices from one generator, noise from another."""

    def __init__(self, choices, seed):
        self.random, self.choice, self.uniform = choices.random, choices.choice, choices.uniform
        self.standard_normal = np.random.default_rng(seed).standard_normal


def aged_clip(rgb, random):
    frames, h, w = rgb.shape[:3]
    return aged(rgb.reshape(frames * h, w, 3), random).reshape(frames, h, w, 3)


def prepared(kind, part):
    """The folder's base name of a set; makes it, and has prepare.ts add to it, when it is not there."""
    base = os.path.join(work_folder(), f"{kind}-{part}")
    if not os.path.exists(base + ".json"):
        make(kind, part)
    if not os.path.exists(base + ".prepared"):
        subprocess.run(["npx", "tsx", os.path.join(HERE, "prepare.ts"), kind, base], check=True, cwd=os.path.dirname(HERE))
    return base


if __name__ == "__main__":
    collect()
    for part in ("held", "train"):
        prepared(sys.argv[1], part)

"""
Made-up motion (layers.py) with known truth. Two sets:
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
from figures import drawn_over
from layers import clip
from samples import Library, aged, strength
from sources import collect, work_folder

WIDTH, HEIGHT = 256, 192
# Shares of the fields' clips with what makes combs drawn over them, and of those made of a chroma plane.
FIGURES, CHROMA = 0.45, 0.12
HERE = os.path.dirname(os.path.abspath(__file__))
SETS = {"fields": {"frames": 8, "train": 1200, "held": 70}, "temporal": {"frames": 5, "train": 1000, "held": 60}}


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
            rgb = aged_clip(clip(lambda: library.pick(random), random, frames, (WIDTH, HEIGHT)), random)
            if kind == "temporal" and random.random() < 0.12:
                # Skies and walls: what is left of the grain shows most there.
                rgb = np.stack([blurred(frame, random.uniform(4, 16)) for frame in rgb])
            if kind == "fields" and random.random() < FIGURES:
                rgb = np.clip(drawn_over(rgb, random), 0, 255)
            if kind == "fields":
                # The same network fills chroma's lines.
                plane = int(random.choice([1, 2])) if random.random() < CHROMA else 0
                soft, grain = random.random() < 0.3, strength(random, 6, 0.3)
                for picture in rgb:
                    luma = to_ycc(picture)[:, :, plane]
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
    # A codec alone is what the treatment of compression meets.
    coded_only = random.random() < 0.22
    luma, chroma = (0.0, 0.0) if coded_only else (strength(random, 30, 0.92), strength(random, 22, 0.7))
    size = grain_size(random) if luma else 0.0
    blur = random.uniform(0.3, 1.2) if not coded_only and random.random() < 0.15 else 0.0
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
    if coded_only or random.random() < 0.25:
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

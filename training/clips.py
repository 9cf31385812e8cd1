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
from typing import NamedTuple

import cv2
import numpy as np

from coded import codec, through
from degrade import add_grain, blurred, grain_size, halve_chroma, to_ycc
from figures import drawn_over
from layers import clip
from samples import Library, aged, strength
from sources import collect, work_folder

WIDTH, HEIGHT = 256, 192
# Shares of clips with figures drawn over them: what makes combs, and what is small and moves, which is no grain.
FIGURES = {"fields": 0.45, "temporal": 0.2}
# Share of the fields' clips made of a chroma plane.
CHROMA = 0.12
# Share of the temporal clips that went through a codec and have nothing else, and of the others that went through one too.
CODED_ONLY, CODED_TOO = 0.38, 0.25
# Frames that an encoder is given before those that are kept: its predictions blur more the later they come in a group.
LEADS = (0, 0, 2, 4, 7)
HERE = os.path.dirname(os.path.abspath(__file__))
SETS = {"fields": {"frames": 8, "train": 1200, "held": 70}, "temporal": {"frames": 5, "train": 1400, "held": 60}}


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
            damage = damage_of(random) if kind == "temporal" else None
            rgb = aged_clip(clip(lambda: library.pick(random), random, frames + (damage.lead if damage else 0), (WIDTH, HEIGHT)), random)
            if kind == "temporal" and random.random() < 0.12:
                # Skies and walls: what is left of the grain shows most there.
                rgb = np.stack([blurred(frame, random.uniform(4, 16)) for frame in rgb])
            if random.random() < FIGURES[kind]:
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
            sent, true_frame, known = harmed(rgb, random, damage)
            true.write(true_frame)
            damaged.write(sent)
            strengths.append(known)
    np.array(strengths, np.float32).tofile(base + ".strengths")
    with open(base + ".json", "w") as out:
        json.dump({"width": WIDTH, "height": HEIGHT, "frames": frames, "clips": count}, out)


class Damage(NamedTuple):
    """What becomes of a clip: strengths of its grain and radius, blur, the encoder's arguments and step where it meets one, and its lead."""

    luma: float
    chroma: float
    size: float
    blur: float
    encoder: list | None
    step: float
    lead: int


def damage_of(random):
    # A codec alone is what the treatment of compression meets.
    coded_only = random.random() < CODED_ONLY
    luma, chroma = (0.0, 0.0) if coded_only else (strength(random, 30, 0.92), strength(random, 22, 0.7))
    size = grain_size(random) if luma else 0.0
    blur = random.uniform(0.3, 1.2) if not coded_only and random.random() < 0.15 else 0.0
    if not coded_only and random.random() >= CODED_TOO:
        return Damage(luma, chroma, size, blur, None, 0.0, 0)
    encoder, step = codec(random)
    return Damage(luma, chroma, size, blur, encoder, step, int(random.choice(LEADS)))


def harmed(rgb, random, damage):
    """The clip's frames behind its lead, damaged, and the middle one's truth, both as bytes; and grain luma, chroma, step, blur, size."""
    disc, seed = random.random() < 0.3, random.integers(1 << 30)
    frames = len(rgb) - damage.lead
    sent = []
    for t, picture in enumerate(rgb):
        ycc = halve_chroma(to_ycc(picture))
        if t == damage.lead + frames // 2:
            truth = planes_of(ycc)
        # The same kind of grain in all frames, other grains in each.
        own = Grains(np.random.default_rng(seed), seed + 1 + t)
        sent.append(planes_of(add_grain(blurred(ycc, damage.blur, disc), damage.luma, damage.chroma, own, True, damage.size)))
    sent = b"".join(sent)
    if damage.encoder:
        sent = through(sent, damage.encoder, WIDTH, HEIGHT)
    return sent[damage.lead * (len(sent) // len(rgb)):], truth, (damage.luma, damage.chroma, damage.step, damage.blur, damage.size)


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

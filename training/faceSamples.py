"""Samples of the network that restores faces."""

import json
import os

import cv2
import numpy as np
import torch
from torch.nn import functional as F

from degrade import add_grain, blurred, grain_size, halve_chroma, jpeg, jpeg_step, to_ycc, without_colour
from faceMarks import with_marks
from faces import LARGE, SMALL, composites
from networks import Trunk, enlarged, fold, unfold
from samples import BLUR_UNIT, GRAIN_UNIT, SIZE_UNIT, STEP_UNIT, aged, jitter, strength
from weights import weights_of

HERE = os.path.dirname(os.path.abspath(__file__))
# Enlargers that faces come through, for prints and for live footage.
ENLARGERS = ("enlarge-print", "enlarge-live")
# Share of faces with next to no damage.
SOUND = 0.25
# Share of faces that glasses, scars or moles are drawn on.
MARKED = 0.3
# Share of faces from the larger composites, and how much oftener their frames are large: what is lost there is harder to tell.
LARGER, LARGEST = 0.75, 0.6
# Frame side that stands for 0 in the plane of sizes.
SIZE_OF_FRAME = 96
# Where the eyes, the nose and the mouth lie in the frame, in parts of it (src/core/faces/frame.ts), and how wide what counts more is around each.
EYES, MOUTH = ((0.345, 0.41), (0.655, 0.41)), (0.5, 0.745)
EYE_SIZE, MOUTH_SIZE = (0.13, 0.09), (0.19, 0.1)


def features(side):
    """1 at eyes and mouth, with a soft border."""
    y, x = (np.mgrid[0:side, 0:side] + 0.5) / side
    out = np.zeros((side, side), np.float32)
    for (cx, cy), (w, h) in [*((eye, EYE_SIZE) for eye in EYES), (MOUTH, MOUTH_SIZE)]:
        out = np.maximum(out, np.clip(3 - 2 * np.hypot((x - cx) / w, (y - cy) / h), 0, 1))
    return out.astype(np.float32)


def trunk_of(name, cin, cout):
    with open(os.path.join(HERE, "configs", f"{name}.json")) as file:
        config = json.load(file)
    network = Trunk(cin, cout, config["widths"], config["blocks"])
    network.load_state_dict(weights_of(name))
    return network.eval()


class Chain:
    """What the program itself makes of a poor picture before faces are restored: cleaned, then enlarged."""

    def __init__(self):
        self.cleaner = trunk_of("clean", 17, 12)
        self.enlargers = [trunk_of(name, 7, 16) for name in ENLARGERS]

    def clean(self, ycc, planes):
        """(h, w, 3) over 1 and the five strengths that steer."""
        with torch.no_grad():
            x = torch.from_numpy(ycc).permute(2, 0, 1)[None].contiguous()
            told = torch.tensor(planes, dtype=torch.float32)[None, :, None, None].expand(1, 5, x.shape[2] // 2, x.shape[3] // 2)
            return (x + unfold(self.cleaner(torch.cat([fold(x), told], 1))))[0].permute(1, 2, 0).numpy().clip(0, 1)

    def doubled(self, ycc, blur, which):
        with torch.no_grad():
            x = torch.from_numpy(np.ascontiguousarray(ycc)).permute(2, 0, 1)[:, None].contiguous()
            y = x[:1]
            told = torch.zeros(1, 3, y.shape[2] // 2, y.shape[3] // 2)
            told[:, 2] = blur / BLUR_UNIT
            large = enlarged(x, 2)
            large[:1] += unfold(self.enlargers[which](torch.cat([fold(y), told], 1)), 4)
            return large[:, 0].permute(1, 2, 0).numpy().clip(0, 1)


class FaceSamples:
    """
    Y'CbCr of poor faces in the frame as the steps before leave them (side, side, 3), planes (side, side, 6: across, down, size of the frame, how
    much it was enlarged, noise and quantiser step that the source had), the truth, and where eyes and mouth are (side, side, 1); pictures over 255.
    """

    # Makes the faces that samples are taken of.
    POOLS = staticmethod(composites)

    def __init__(self, part, side, seed):
        self.side = side
        self.random = np.random.default_rng(seed)
        self.pools = [self.POOLS(part, size) for size in (SMALL, LARGE)]
        self.chain = Chain()
        self.marked = {}

    def frame(self):
        """A face in a frame of some size, a little out of place as meshes of poor faces are, and the part of it that is taken."""
        pool = self.pools[int(self.random.random() < LARGER)]
        face = pool[self.random.integers(len(pool))].astype(np.float32)
        return self.placed(with_marks(face, self.random) if self.random.random() < MARKED else face)

    def placed(self, picture):
        """A square picture brought to a frame of some size: a part (side, side), that size, where it lies, and what of it counts more."""
        random, side = self.random, self.side
        own = picture.shape[0]
        size = side if own == SMALL else 8 * round((side + (LARGE - side) * random.random() ** LARGEST) / 8)
        angle, scale = random.normal(0, 3), size / own * random.normal(1, 0.03)
        matrix = cv2.getRotationMatrix2D((own / 2, own / 2), angle, scale)
        matrix[:, 2] += (size - own) / 2 + random.normal(0, 0.015 * size, 2)
        if size < own:
            picture = blurred(picture, 0.4 * np.sqrt(max(0, (own / size) ** 2 - 1)))
        picture = cv2.warpAffine(picture, matrix, (size, size), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT_101)
        mirrored = random.random() < 0.5
        if mirrored:
            picture = picture[:, ::-1]
        left, top = (4 * int(random.integers((size - side) // 4 + 1)) for _ in range(2))
        cut = slice(top, top + side), slice(left, left + side)
        places = np.mgrid[0:size, 0:size].astype(np.float32)[::-1] * (2 / size) + (1 / size - 1)
        if size not in self.marked:
            self.marked[size] = features(size)
        return picture[cut], size, places[:, cut[0], cut[1]], self.marked[size][cut]

    def one(self):
        random, side = self.random, self.side
        rgb, size, places, marked = self.frame()
        light = random.uniform(0.75, 1.25) + random.normal(0, 0.18) * places[0] + random.normal(0, 0.12) * places[1]
        rgb = np.clip(rgb * light[:, :, None], 0, 255)
        rgb = aged(255 * (rgb / 255) ** random.uniform(0.7, 1.4), random)
        grey = random.random() < 0.45
        if grey:
            rgb = without_colour(rgb)
        truth = to_ycc(rgb)
        factor = int(random.choice([1, 2, 2, 2, 4]))
        small = truth if factor == 1 else cv2.resize(truth, (side // factor, side // factor), interpolation=cv2.INTER_AREA)
        poor, strengths, blur = self.poor(small, grey)
        made = self.restored(poor, strengths, blur, factor)
        planes = np.empty((side, side, 6), np.float32)
        planes[:, :, 0], planes[:, :, 1] = places
        planes[:, :, 2], planes[:, :, 3] = np.log2(size / SIZE_OF_FRAME), np.log2(factor)
        planes[:, :, 4], planes[:, :, 5] = strengths[0], strengths[2]
        return made.astype(np.float32), planes, (truth / 255).astype(np.float32), marked[:, :, None]

    def poor(self, ycc, grey):
        """Damaged as prints, films and tapes are, over 1, and the strengths as Clean is told them."""
        random = self.random
        # A good share of sound faces, so that they are left alone.
        sound = random.random() < SOUND
        blur = random.uniform(0.3, 1.3) if not sound and random.random() < 0.55 else 0.0
        out = blurred(ycc, blur, random.random() < 0.3)
        luma = strength(random, 2 if sound else 20, 0.75)
        size = grain_size(random) if luma else 0.0
        half = not grey and random.random() < 0.5
        chroma = 0.0 if grey or sound else strength(random, 14, 0.5)
        if half:
            out = halve_chroma(out)
        out, step = add_grain(out, luma, chroma, random, half, size), 0.0
        if random.random() < 0.5:
            quality = int(random.integers(90 if sound else 25, 98))
            out, step = jpeg(np.clip(out, 0, 255), quality, grey), jpeg_step(quality)
        strengths = (jitter(luma, random) / GRAIN_UNIT, jitter(chroma, random) / GRAIN_UNIT, min(1.5, jitter(step, random) / STEP_UNIT), 0, jitter(size, random) / SIZE_UNIT)
        return (out / 255).astype(np.float32), strengths, blur

    def restored(self, ycc, strengths, blur, factor):
        """As the plan before it leaves the face: mostly cleaned, and enlarged by the networks; sometimes as it is, and enlarged plainly."""
        random = self.random
        cleaned = random.random() < 0.7
        out = self.chain.clean(ycc, strengths) if cleaned else ycc
        which = int(random.integers(len(ENLARGERS)))
        plain = random.random() < (0.1 if cleaned else 0.6)
        told = jitter(blur, random) if random.random() < 0.6 else 0.0
        for step in range(int(np.log2(factor))):
            if plain:
                out = enlarged(torch.from_numpy(np.ascontiguousarray(out)).permute(2, 0, 1)[:, None], 2)[:, 0].permute(1, 2, 0).numpy().clip(0, 1)
            else:
                out = self.chain.doubled(out, 0.25 if step else told, which)
        return out

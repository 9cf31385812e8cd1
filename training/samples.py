"""Training samples made on the fly: a damaged patch, the planes that steer, and the truth.

What the planes name is to be removed; damage they do not name is in the truth too and must stay. So the restorer's
sliders and masks really steer, and a setting of zero leaves the picture alone.
"""

import cv2
import numpy as np

from coded import coded
from degrade import add_grain, blurred, doubled_field, grain_size, halo, halve_chroma, jpeg, jpeg_step, moved_chroma, resized, to_ycc, without_colour
from drawn import drawn_frames
from sources import PHOTOGRAPHS, pictures, pictures_of

# Codes that stand for 1 in a steering plane.
GRAIN_UNIT, STEP_UNIT, BLUR_UNIT, SIZE_UNIT = 32.0, 64.0, 2.0, 1.5


def turned(x, random):
    """One of the eight turns and mirrorings of a square patch."""
    x = np.rot90(x, int(random.integers(4)))
    return np.ascontiguousarray(x[:, ::-1] if random.random() < 0.5 else x)


# Least reduction of a patch that shows much on little.
SMALLER = 1.5


class Library:
    """Patches of photographs and drawings; `drawn` is the share of drawings, `textures` whether those of games are among the photographs."""

    def __init__(self, part, drawn, textures=True):
        photos = [(array, package) for array, package in pictures_of("photo", part) if textures or package in PHOTOGRAPHS]
        self.photos = [array for array, _ in photos]
        self.drawings = drawn_frames(part) + pictures("drawn", part)
        self.drawn = drawn
        # By their areas; photographs more often than textures, for it is photographs that are restored.
        odds = np.array([array.shape[0] * array.shape[1] * (3 if package in PHOTOGRAPHS else 1) for array, package in photos], float)
        self.odds = odds / odds.sum()

    def pick(self, random):
        if random.random() < self.drawn:
            return self.drawings[random.integers(len(self.drawings))]
        return self.photos[random.choice(len(self.photos), p=self.odds)]

    def patch(self, side, random, small=0.0):
        """(side, side, 3) RGB floats; flat patches are mostly passed over, for they teach little. `small`: share that shows much on little, as small prints do."""
        for _ in range(8):
            rgb = self.pick(random)
            h, w = rgb.shape[:2]
            most = min(h, w) / side
            if most > SMALLER and random.random() < small:
                reach = int(side * np.exp(random.uniform(np.log(SMALLER), np.log(most))))
            else:
                reach = side if most < 1.1 or random.random() < 0.6 else int(side * random.uniform(1, min(2, most)))
            if reach > min(h, w):
                continue
            y, x = random.integers(h - reach + 1), random.integers(w - reach + 1)
            part = np.asarray(rgb[y:y + reach, x:x + reach])
            if part.std() < 6 and random.random() < 0.85:
                continue
            if reach != side:
                part = cv2.resize(part, (side, side), interpolation=cv2.INTER_AREA)
            return aged(turned(part, random).astype(np.float32), random)
        return aged(turned(part[:side, :side], random).astype(np.float32), random)


def aged(rgb, random):
    """Sometimes without colour, and with faded levels."""
    if random.random() < 0.25:
        rgb = without_colour(rgb)
    if random.random() < 0.3:
        low, high = random.uniform(0, 60), random.uniform(150, 255)
        rgb = low + rgb * ((high - low) / 255)
    return rgb


def strength(random, most, share):
    """A strength from 0 to `most`, weak ones more often, zero when the share is missed."""
    return most * float(random.random()) ** 1.6 if random.random() < share else 0.0


def mask_of(side, random):
    """Where the damage is: everywhere, or a part with a soft border."""
    if random.random() < 0.85:
        return np.ones((side, side), np.float32)
    y, x = np.mgrid[0:side, 0:side].astype(np.float32) / side - 0.5
    a = random.uniform(0, 2 * np.pi)
    return np.clip(0.5 + (np.cos(a) * x + np.sin(a) * y + random.uniform(-0.2, 0.2)) * random.uniform(3, 30), 0, 1)


def jitter(value, random):
    """A measurement is never exact."""
    return value * random.uniform(0.9, 1.1)


class CleanSamples:
    """Damaged Y'CbCr (side, side, 3), planes (side, side, 5: grain luma, grain chroma, step, blur, size), truth; all over 255."""

    def __init__(self, part, side, seed, drawn=0.12, coded_share=0.3):
        self.side, self.coded_share = side, coded_share
        self.random = np.random.default_rng(seed)
        self.library = Library(part, drawn)
        self.coded = [coded("photo", part), coded("drawn", part)]

    def one(self):
        return self.from_codec() if self.random.random() < self.coded_share else self.from_picture()

    def from_codec(self):
        random, side = self.random, self.side
        _, true, sent, strengths = self.coded[random.random() < 0.2]
        n = random.integers(len(true))
        y, x = (2 * random.integers((extent - side) // 2 + 1) for extent in true.shape[1:3])
        cut = np.concatenate([a[n, y:y + side, x:x + side] for a in (true, sent)], 2).astype(np.float32)
        cut = turned(cut, random)
        luma, chroma, step = (jitter(v, random) for v in strengths[n])
        planes = np.empty((side, side, 5), np.float32)
        planes[:] = (luma / GRAIN_UNIT, chroma / GRAIN_UNIT, min(1.5, step / STEP_UNIT), 0, 0)
        return cut[:, :, 3:] / 255, planes, cut[:, :, :3] / 255

    def from_picture(self):
        random, side, edge = self.random, self.side, 8
        ycc = to_ycc(self.library.patch(side + 2 * edge, random))
        half = random.random() < 0.6
        chance = random.random()
        if chance < 0.2:
            # A few as smooth as skies.
            ycc = blurred(ycc, random.uniform(3, 10) if chance < 0.05 else random.uniform(0.3, 1.5))
        if half:
            ycc = halve_chroma(ycc)
        truth = ycc
        grey = float(np.abs(ycc[:, :, 1:] - 128).max()) < 1
        mask = mask_of(side + 2 * edge, random)
        grain_only, coded_only = self.scenario()
        out, blur = (ycc, 0.0) if grain_only or coded_only else mixed_softness(ycc, self.random)
        luma = 0.0 if coded_only else strength(random, 32, 1.0 if grain_only else 0.7)
        chroma = strength(random, 24, 0.6) if luma else 0.0
        size = grain_size(random) if luma else 0.0
        quality = 0 if grain_only or not (coded_only or random.random() < 0.5) else int(random.integers(12, 96))
        if quality and not coded_only and random.random() < 0.3:
            out = halo(out, random.uniform(0.2, 1.0), random.uniform(0.8, 1.8))
        if chroma and random.random() < 0.15:
            out = moved_chroma(out, random)
        out = add_grain(out, luma, chroma, random, half, size, screen=random.random() < 0.05)
        if half:
            out = halve_chroma(out)
        out = ycc + mask[:, :, None] * (out - ycc)
        step = 0.0
        if quality:
            out, step = jpeg(out, quality, grey and chroma == 0), jpeg_step(quality)
        planes = np.empty((side + 2 * edge, side + 2 * edge, 5), np.float32)
        planes[:, :, 0] = jitter(luma, random) / GRAIN_UNIT * mask
        planes[:, :, 1] = jitter(chroma, random) / GRAIN_UNIT * mask
        planes[:, :, 2] = min(1.5, jitter(step, random) / STEP_UNIT)
        planes[:, :, 3] = jitter(blur, random) / BLUR_UNIT * mask
        planes[:, :, 4] = jitter(size, random) / SIZE_UNIT
        inner = slice(edge, edge + side)
        # Half chroma repeats each sample over its pixels; the border is even, so the pairs stay together.
        return tuple(np.ascontiguousarray(a[inner, inner]) for a in (out / 255, planes, truth / 255))

    def scenario(self):
        """Whether the damage is grain alone or a codec alone; both false for a mixture. Each is a step used by itself."""
        chance = self.random.random()
        return chance < 0.38, 0.38 <= chance < 0.7

def mixed_softness(ycc, random):
    """The picture blurred in one of several ways, or left, and the deviation of the blur."""
    chance = random.random()
    if chance < 0.4:
        return ycc, 0.0
    if chance < 0.8:
        blur = random.uniform(0.3, 1.8)
        return blurred(ycc, blur, random.random() < 0.3), blur
    if chance < 0.92:
        factor = random.uniform(1.2, 2.5)
        return resized(ycc, factor, random), 0.4 * float(np.sqrt(factor ** 2 - 1))
    return doubled_field(ycc, random), 0.6


class EnlargeSamples:
    """
    Luma for enlarging: a small damaged patch, planes of its size (3: grain, step, blur), the truth (2 side, 2 side); all over 255.
    The patch is (side, side), or half of that for a share that is to be enlarged twice. `content` is live, drawn or print.
    """

    def __init__(self, part, side, seed, content="live", coded_share=0.12, twice_share=0.25):
        self.side, self.content = side, content
        self.random = np.random.default_rng(seed)
        self.library = Library(part, {"live": 0.1, "drawn": 0.85, "print": 0.05}[content])
        self.coded = coded("drawn" if content == "drawn" else "photo", part)
        self.coded_share = 0.0 if content == "print" else coded_share
        self.twice_share = twice_share

    def one(self):
        return self.from_codec() if self.random.random() < self.coded_share else self.from_picture()

    def from_codec(self):
        random, side = self.random, self.side
        large, _, sent, strengths = self.coded
        n = random.integers(len(large))
        y, x = (random.integers(extent - side + 1) for extent in sent.shape[1:3])
        true, small = large[n, 2 * y:2 * (y + side), 2 * x:2 * (x + side)], sent[n, y:y + side, x:x + side, 0]
        k, mirror = int(random.integers(4)), random.random() < 0.5
        true, small = (np.ascontiguousarray(np.rot90(a, k)[:, ::-1] if mirror else np.rot90(a, k)) for a in (true, small))
        luma, _, step = (jitter(v, random) for v in strengths[n])
        planes = np.empty((side, side, 3), np.float32)
        planes[:] = (luma / GRAIN_UNIT, min(1.5, step / STEP_UNIT), 0)
        return small / np.float32(255), planes, true / np.float32(255)

    def from_picture(self):
        random, side = self.random, self.side
        true = to_ycc(self.library.patch(4 * side, random))[:, :, 0]
        if self.content == "print" and random.random() < 0.4:
            true = true + paper(true.shape, random)
        factor = 8 if random.random() < self.twice_share else 4
        blur, unharmed = 0.0, random.random() < (0.2 if self.content == "print" else 0.4)
        wide = true
        if random.random() < (0.6 if self.content == "print" else 0.1 if unharmed else 0.3):
            # Named in pixels of the small picture.
            blur = random.uniform(0.2, 1.0)
            wide = blurred(true, factor * blur, random.random() < 0.3)
        small, soft = reduced(wide, factor, random)
        blur = float(np.hypot(blur, soft))
        luma = 0.0 if unharmed else strength(random, 25, 0.85)
        quality = 0 if unharmed or random.random() < 0.4 else int(random.integers(25, 96))
        screen = self.content == "print" and random.random() < 0.25
        colour = add_grain(np.dstack([small, small, small]), luma, 0, random, False, screen=screen)
        step = 0.0
        if quality:
            colour, step = jpeg(colour, quality, True), jpeg_step(quality)
        planes = np.empty((*small.shape, 3), np.float32)
        planes[:] = (jitter(luma, random) / GRAIN_UNIT, min(1.5, jitter(step, random) / STEP_UNIT), jitter(blur, random) / BLUR_UNIT)
        half = cv2.resize(true, (2 * side, 2 * side), interpolation=cv2.INTER_AREA)
        return colour[:, :, 0] / 255, planes, half / 255


def reduced(picture, factor, random):
    """
    A reduction and the blur it adds, in pixels of the small picture: gathering light over each pixel counts as none, a
    Gaussian adds what it is wider than that.
    """
    h, w = picture.shape
    if random.random() < 0.6:
        return cv2.resize(picture, (w // factor, h // factor), interpolation=cv2.INTER_AREA), 0.0
    spread = random.uniform(0.3, 0.55)
    soft = cv2.GaussianBlur(picture, (0, 0), factor * spread, borderType=cv2.BORDER_REFLECT_101)
    # The mean of the middle four stands for a sample between pixels.
    o = factor // 2
    small = (soft[o - 1::factor, o - 1::factor] + soft[o::factor, o - 1::factor] + soft[o - 1::factor, o::factor] + soft[o::factor, o::factor]) / 4
    return small, float(np.sqrt(spread ** 2 - 1 / 12))


def paper(shape, random):
    """The faint texture of a print's surface: part of what was scanned, so part of the truth."""
    field = cv2.GaussianBlur(random.standard_normal(shape, np.float32), (0, 0), random.uniform(2, 6))
    return random.uniform(0.5, 3) * field / (field.std() + 1e-6)

"""Samples of the networks that find damage on prints and mend it."""

import json
import os
import subprocess

import cv2
import numpy as np

from blemishes import BENT, Canvas, DRAWN, KINDS, blemished, blob_outline, folds, smooth_noise, spilled
from colourSamples import portraits
from degrade import add_grain, blurred, jpeg, to_ycc
from lookalikes import fonts, lettering, parting, shirt_front, spectacles, worn
from samples import Library, aged
from sources import work_folder

# Ways to fill that the program tries, see `src/core/fill/candidates.ts`.
CANDIDATES = 12
# Share of pictures that are as soft as prints are; the others are as sharp as pixels can be.
SOFT = 0.85
# Softness of what a print shows beside that of its damage, in pixels: of small prints or coarse scans, and of scans at 300 to 600 dots an inch.
COARSE, FINE = (0.5, 1.1), (1.0, 1.8)


def printed_softness(scale, random, least_and_most=(COARSE[0], FINE[1])):
    """Deviation of a print's softness in a scan's pixels: lenses, enlargers and papers hold less than a scan of its damage does."""
    return scale * random.uniform(*least_and_most)


# Shares of samples without damage, and with one kind alone.
WHOLE, ALONE = 0.3, 0.45
# How often a kind is drawn beside the others: what is thin is harder to learn, and stains are mould too.
OFTEN = {"specks": 0.15, "hairs": 0.2, "scratches": 0.2, "folds": 0.13, "cracks": 0.13, "stains": 0.19}


# Share of samples whose folds lie flat under the scanner's lid, and how much their paper is bent at most: there the line alone is damage.
FLAT, HARDLY_BENT = 0.5, 6

# Share of samples that show a scene as small as small prints and coarse scans do: windows are then no larger than specks.
SMALL = 0.4
# Share of samples that show a portrait, and of those with the white border of a print in them.
PORTRAITS, BORDERED = 0.18, 0.15
# Shares of samples with spectacles in them, of portraits and of others, with lettering, with what people wear, with a tie's knot, and with a parting.
SPECTACLED, SPECTACLES, LETTERED, DRESSED, KNOTTED, PARTED = 0.5, 0.15, 0.08, 0.12, 0.08, 0.08
# How much more a whole pixel of these counts than others, and the share of that of what is worn, which is wider.
TELLING, WIDER = 4, 0.3


def bordered(rgb, random):
    """A print's border of paper, and what it lies on beyond, along one or two sides: neither is damage."""
    h, w = rgb.shape[:2]
    y, x = np.mgrid[0:h, 0:w].astype(np.float32)
    paper = random.uniform(170, 255) * np.array([1, random.uniform(0.95, 1), random.uniform(0.82, 1)], np.float32)
    ground = random.uniform(10, 230) * np.array([1, random.uniform(0.8, 1), random.uniform(0.6, 1)], np.float32)
    for _ in range(int(random.integers(1, 3))):
        angle = random.integers(4) * np.pi / 2 + random.normal(0, 0.04)
        inward = (x - w / 2) * np.cos(angle) + (y - h / 2) * np.sin(angle) + random.uniform(0.05, 0.45) * w
        wide, soft = float(np.exp(random.uniform(np.log(3), np.log(50)))), random.uniform(0.7, 2)
        border = np.clip(-inward / soft + 0.5, 0, 1)[:, :, None]
        beyond = np.clip((-inward - wide) / soft + 0.5, 0, 1)[:, :, None] if random.random() < 0.8 else 0
        rgb = rgb + border * (paper - rgb)
        rgb = rgb + beyond * (ground - rgb)
    return rgb.astype(np.float32)


class BlemishSamples:
    """
    Y'CbCr over 255: damaged (side, side, 3), whole (side, side, 3), what is damaged (side, side, kinds), where that is certain
    (side, side).
    """

    # Of what the scan has.
    SIZE = 1.0

    def __init__(self, part, side, seed):
        self.side = side
        self.random = np.random.default_rng(seed)
        # Rust, concrete and bark of games have scratches and cracks of their own, which nobody would call damage of a print.
        self.library = Library(part, 0.08, textures=False)
        self.portraits = portraits(part)
        self.fonts = fonts()
        if not self.fonts:
            raise SystemExit("Lettering is drawn with fonts: install fonts-dejavu-core and fonts-liberation.")

    def kinds(self):
        random = self.random
        chance = random.random()
        if chance < WHOLE:
            return []
        count = 1 if chance < WHOLE + ALONE else int(random.integers(2, 5))
        # What lies on top comes last: dust on stains, not under them.
        return [KINDS[i] for i in sorted(random.choice(len(KINDS), count, replace=False, p=[OFTEN[kind] for kind in KINDS]), reverse=True)]

    def one(self):
        random = self.random
        portrait = random.random() < PORTRAITS
        whole = self.portrait() if portrait else self.library.patch(self.side, random, SMALL)
        alike = np.zeros(whole.shape[:2], np.float32)
        if random.random() < LETTERED:
            whole, alike = lettering(whole, random, self.fonts)
        if random.random() < (SPECTACLED if portrait else SPECTACLES):
            whole, rims = spectacles(whole, random)
            alike = np.maximum(alike, rims)
        if random.random() < DRESSED:
            whole, bands = worn(whole, random)
            alike = np.maximum(alike, WIDER * bands)
        for share, draw in ((KNOTTED, shirt_front), (PARTED, parting)):
            if random.random() < share:
                whole, shown = draw(whole, random)
                alike = np.maximum(alike, WIDER * shown)
        if random.random() < BORDERED:
            whole = bordered(whole, random)
        scale = self.SIZE * (float(np.exp(random.uniform(-0.25, 1.2))) if random.random() < 0.7 else 1.0)
        if random.random() < SOFT:
            whole = blurred(whole, printed_softness(scale, random))
        damaged, whole, labels, sure = self.harmed(whole, scale)
        sure = sure * np.where(labels.max(2) > 0, 1, 1 + (TELLING - 1) * alike).astype(np.float32)
        pair = [to_ycc(damaged), to_ycc(whole)]
        # Prints have a grain of their own and scanners a softness and noise: on damage as beside it.
        if random.random() < 0.35:
            sigma = random.uniform(0.3, 0.8)
            pair = [blurred(p, sigma) for p in pair]
        if random.random() < 0.5:
            pair = self.grainy(pair)
        if random.random() < 0.3:
            quality = int(random.integers(50, 97))
            pair = [jpeg(p, quality) for p in pair]
        return [np.clip(p, 0, 255).astype(np.float32) / 255 for p in pair] + [labels, sure]

    def harmed(self, whole, scale):
        """Of a print: damaged, as it was, what is damaged, and where that is certain."""
        random = self.random
        bending = random.uniform(0, HARDLY_BENT) if random.random() < FLAT else BENT
        drawn = {**DRAWN, "folds": lambda rgb, random, scale: folds(rgb, random, scale, bending)}
        damaged, labels, sure = blemished(whole, random, self.kinds(), scale, drawn)
        return damaged, whole, labels, sure

    def portrait(self):
        """A part of a portrait, upright, at any size."""
        random = self.random
        rgb = self.portraits[random.integers(len(self.portraits))]
        reach = int(min(rgb.shape[:2]) * random.uniform(0.35, 1))
        y, x = (int(random.integers(extent - reach + 1)) for extent in rgb.shape[:2])
        part = np.asarray(rgb[y:y + reach, x:x + reach])
        kind = cv2.INTER_AREA if reach > self.side else cv2.INTER_CUBIC
        part = cv2.resize(part, (self.side, self.side), interpolation=kind).astype(np.float32)
        return aged(part[:, ::-1] if random.random() < 0.5 else part, random)

    def grainy(self, pair):
        strength = self.random.uniform(0.5, 14) * self.random.random()
        seed = int(self.random.integers(1 << 31))
        # The same grain in both, but for how it follows the lightness.
        return [add_grain(p, strength, strength * 0.5, np.random.default_rng(seed), False) for p in pair]


# Shares of samples without stains, with other damage, and with panes, and radii of stains at half the size.
UNSTAINED, OTHERS, PANED, WIDE = 0.4, 0.4, 0.15, (4, 70)


def panes(rgb, random):
    """Clear shapes of drawings and of glass, round or with straight sides, lighter or darker than what they lie on: no stains."""
    h, w = rgb.shape[:2]
    for _ in range(int(random.integers(1, 6))):
        canvas = Canvas((h, w))
        x, y, radius = random.uniform(0, w), random.uniform(0, h), float(np.exp(random.uniform(np.log(6), np.log(110))))
        if random.random() < 0.35:
            angles, reach = np.linspace(0, 2 * np.pi, 90), radius
        else:
            angles = np.sort(random.uniform(0, 2 * np.pi, int(random.integers(3, 7))))
            reach = radius * random.uniform(0.6, 1.4, len(angles))
        canvas.blob(np.stack([x + reach * np.cos(angles), y + reach * np.sin(angles)], 1))
        cover = canvas.cover()
        if random.random() < 0.25:
            cover = cover - cv2.erode(cover, np.ones((3, 3)), iterations=int(random.integers(1, 9)))
        cover = random.uniform(0.05, 0.5) * cv2.GaussianBlur(cover, (0, 0), random.uniform(0.3, 1.2))
        rgb = rgb + cover[:, :, None] * (random.uniform(0, 255, 3) - rgb)
    return rgb.astype(np.float32)


class StainSamples(BlemishSamples):
    """As BlemishSamples at half the size, where spilled stains alone are damage."""

    SIZE = 0.5

    def harmed(self, whole, scale):
        random = self.random
        if random.random() < PANED:
            whole = panes(whole, random)
        radius = float(np.exp(random.uniform(*np.log(WIDE)))) / scale ** 0.5
        drawn = {**DRAWN, "stains": lambda rgb, random, scale: spilled(rgb, random, scale, (0.5 * radius, radius))}
        kinds = ["stains"] if random.random() > UNSTAINED else []
        if random.random() < OTHERS:
            kinds += [str(kind) for kind in random.choice(KINDS[:-1], int(random.integers(1, 3)), replace=False)]
        damaged, labels, sure = blemished(whole, random, kinds, scale, drawn)
        return damaged, whole, labels[:, :, -1:], sure


# Radii of the openings and closings in what Seeker sees, and of the mean: thin damage and wide.
RADII, AROUND = (4, 11), 16


def rooted(apart):
    """Differences of full scale 1 under a signed root, which shows one code beside a hundred."""
    return np.sign(apart) * np.sqrt(np.abs(apart) * 16)


def folded(plane):
    """(h, w) as four planes of half the size, as `fold` of networks.py."""
    return [plane[y::2, x::2] for y in (0, 1) for x in (0, 1)]


def finding_planes(ycc):
    """
    What Seeker sees of Y'CbCr (h, w, 3) over 1, (28, h / 2, w / 2): luma; how far it stands above its openings and below its closings (Serra,
    1982) of two radii, and above its mean; chroma at half size, and above its mean.
    """
    luma = np.ascontiguousarray(ycc[:, :, 0])
    mean = lambda plane, radius: cv2.blur(plane, (2 * radius + 1, 2 * radius + 1), borderType=cv2.BORDER_REPLICATE)
    parts = folded(2 * luma - 1)
    for radius in RADII:
        square = np.ones((2 * radius + 1, 2 * radius + 1), np.uint8)
        parts += folded(rooted(luma - cv2.dilate(cv2.erode(luma, square), square)))
        parts += folded(rooted(cv2.erode(cv2.dilate(luma, square), square) - luma))
    parts += folded(rooted(luma - mean(luma, AROUND)))
    chroma = [np.mean(folded(ycc[:, :, c]), 0) for c in (1, 2)]
    parts += [4 * (plane - 0.5) for plane in chroma] + [rooted(plane - mean(plane, AROUND // 2)) for plane in chroma]
    return np.stack(parts).astype(np.float32)


# Pixels that a mask is wider than the damage, as painted or found well, and as found where the network was in doubt; share of the latter.
WELL, DOUBTFUL, DOUBTED = (0, 3), (4, 9), 0.5
# Share of samples where something whole was taken for damage, and its radii in pixels.
MISTAKEN, MISTAKES = 0.25, (2, 11)


def grown(mask, by):
    return cv2.dilate(mask, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * by + 1, 2 * by + 1))) if by else mask


def widened(mask, random):
    """A mask as it is found or painted: wider than the damage, raggedly where that is doubtful, and never exact."""
    near = grown(mask, int(random.integers(WELL[0], WELL[1] + 1)))
    if random.random() < DOUBTED:
        doubt = smooth_noise(mask.shape, random.uniform(3, 12), random) > random.normal(-0.5, 0.7)
        near = np.maximum(near, grown(mask, int(random.integers(DOUBTFUL[0], DOUBTFUL[1] + 1))) * doubt)
    if random.random() < MISTAKEN:
        canvas = Canvas(mask.shape)
        for _ in range(int(random.integers(1, 4))):
            y, x = (random.uniform(0, extent) for extent in mask.shape)
            canvas.blob(blob_outline(random, x, y, float(np.exp(random.uniform(*np.log(MISTAKES))))))
        near = np.maximum(near, canvas.cover() > 0.5)
    return near.astype(np.float32)


# Share of samples where something foreign lies in place of the damage, as where an object was painted over.
FOREIGN = 0.12


def harmed(samples, random):
    """Damaged Y'CbCr (side, side, 3), its mask as it would be found, and the truth, all over 255."""
    samples.kinds = lambda: [KINDS[i] for i in sorted(random.choice(len(KINDS), int(random.integers(1, 4)), replace=False), reverse=True)]
    while True:
        damaged, whole, labels, _ = samples.one()
        mask = widened(labels.max(2), random)
        if 0.004 < mask.mean() < 0.45:
            break
    if random.random() < FOREIGN:
        other = to_ycc(samples.library.patch(samples.side, random)) / 255
        damaged = damaged + mask[:, :, None] * (other - damaged)
    return damaged, mask, whole


def make_heal(part, count, side, seed):
    """
    Writes heal-PART.damaged (planes of Y', Cb, Cr and the mask, a byte each), heal-PART.true (Y') and heal-PART.json, and has the
    program make of them heal-PART.prepared: what each of its ways to fill gives, see `src/core/fill/candidates.ts`.
    """
    base = os.path.join(work_folder(), f"heal-{part}")
    if os.path.exists(base + ".prepared"):
        return base
    samples = BlemishSamples(part, side, seed)
    byte = lambda a: np.clip(np.rint(a * 255), 0, 255).astype(np.uint8)
    with open(base + ".damaged", "wb") as out, open(base + ".true", "wb") as true:
        for _ in range(count):
            damaged, mask, whole = harmed(samples, samples.random)
            out.write(byte(damaged.transpose(2, 0, 1)).tobytes() + byte(mask).tobytes())
            true.write(byte(whole[:, :, 0]).tobytes())
    with open(base + ".json", "w") as out:
        json.dump({"width": side, "height": side, "frames": 1, "clips": count}, out)
    subprocess.run(["npx", "tsx", "training/prepare.ts", "heal", base], check=True, cwd=os.path.dirname(os.path.dirname(os.path.abspath(__file__))))
    return base


class HealSamples:
    """What each way to fill gives (CANDIDATES, side, side), the mask (1, side, side), and the true luma (1, side, side), over 255."""

    def __init__(self, part, config, seed):
        self.random = np.random.default_rng(seed)
        side = config["patch"]
        base = make_heal(part, config["samples"] if part == "train" else config["samples"] // 10, side, 7 if part == "train" else 8)
        self.candidates = np.memmap(base + ".prepared", np.uint8, "r").reshape(-1, CANDIDATES, side, side)
        self.masks = np.memmap(base + ".damaged", np.uint8, "r").reshape(-1, 4, side, side)[:, 3:]
        self.truths = np.memmap(base + ".true", np.uint8, "r").reshape(-1, 1, side, side)

    def one(self):
        n = int(self.random.integers(len(self.truths)))
        rows = [a[n] for a in (self.candidates, self.masks, self.truths)]
        if self.random.random() < 0.5:
            # Upside down and mirrored, lines keep their directions.
            rows = [a[:, ::-1, ::-1] for a in rows]
        return [np.ascontiguousarray(a, np.float32) / 255 for a in rows]

"""Pictures made monochrome as old films and prints show them, and the colours they had."""

import glob
import hashlib
import os
import re

import cv2
import numpy as np

from degrade import LUMA, add_grain, blurred, to_ycc
from faces import FACE_PACKAGES, NOT_TAKEN, fetched, of_part, photographed
from named import named_textures
from resources import files_in
from sources import PHOTOGRAPHS, decode, files_of, held_out, kind_of, looks, pictures_of

# Classes of colour: points of a square raster over Cb and Cr of full range, so many codes apart, so many steps from grey at most.
SPACING, RADIUS = 12, 7
BINS = np.array([(b, r) for b in range(-RADIUS, RADIUS + 1) for r in range(-RADIUS, RADIUS + 1) if b * b + r * r <= RADIUS * RADIUS])
# Fold of the input, and how much coarser the answer is.
FOLD = 4
# Mean codes of chroma under which a picture counts as monochrome or toned, and teaches nothing.
COLOURED = 5.0
# Shares of pictures of people, of textures, of the demo's scenes and people, and of textures that are named; the rest are photographs.
PEOPLE, TEXTURES, RENDERED, NAMED = 0.2, 0.05, 0.05, 0.12
# Place in NAMES of what has no name.
NAMELESS = -1
# A picture's colours may be of a whole light that is off; as many are seen in the mirror.
LEAST_SIDE = 128


# Packages whose photographs are too small or too compressed to learn sharpness from, but show what colour things have: their licences,
# and where in the package the photographs lie, also inside its compiled resources.
SCENES = {
    "scratch": ("CC-BY-SA-3.0", "/Media/Backgrounds/"),
    "gnome-control-center-data": ("CC0-1.0, GPL-2+", "/pixmaps/faces/"),
    "gcompris-qt-data": ("CC-BY-SA, CC-BY, CC0, GPL, public domain", r"/(explore_\w+|erase|categorization|details|babyshapes)/resource/"),
}
# Small grey pictures of one photograph in two sizes differ by less.
SAME_LOOK = 0.12


def coloured(rgb):
    small = cv2.resize(np.asarray(rgb), (64, 64), interpolation=cv2.INTER_AREA).astype(np.float32)
    chroma = to_ycc(small)[:, :, 1:] - 128
    return np.abs(chroma).mean() > COLOURED and chroma.std((0, 1)).max() > COLOURED / 2


def named_photographs(part):
    """Landscapes and things that the packages of faces carry beside them, by name; every eighth is held out, by the SHA-256 of it."""
    root, found = fetched(), {}
    for package in FACE_PACKAGES:
        for folder, _, files in sorted(os.walk(os.path.join(root, package))):
            if "/faces/" in folder + "/" or "/src/" in folder + "/" or "illustrations" in folder:
                continue
            for file in sorted(files):
                if not file.lower().endswith((".jpg", ".jpeg")) or file in NOT_TAKEN:
                    continue
                if (hashlib.sha256(file.encode()).digest()[0] < 32) != (part == "held"):
                    continue
                bgr = cv2.imread(os.path.join(folder, file))
                if bgr is None or min(bgr.shape[:2]) < LEAST_SIDE:
                    continue
                scale = min(1, 900 / max(bgr.shape[:2]))
                found[f"{package}/{file}"] = cv2.resize(bgr, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)[:, :, ::-1]
    return found


def demo_photographs(part):
    return list(named_photographs(part).values())


def scenes(part):
    """Photographs of the packages in SCENES, by package and name; one in eight is held out by the SHA-256 of its name."""
    found, seen = {package: {} for package in SCENES}, []
    for package, (_, folder) in SCENES.items():
        for name, data in [*files_of(package), *resources_of(package)]:
            if not re.search(folder, name) or os.path.islink(name) or held_out(name) != (part == "held"):
                continue
            rgb = decode(data)
            if rgb is None or min(rgb.shape[:2]) < 90 or kind_of(rgb) != "photo":
                continue
            look = looks(rgb)
            if all(float(np.abs(look - other).mean()) >= SAME_LOOK for other in seen):
                seen.append(look)
                found[package][name] = rgb
    return found


def resources_of(package):
    """Names and bytes of the pictures in the compiled resources of a package."""
    for path in sorted(glob.glob(f"/usr/share/{package.removesuffix('-data')}/rcc/*.rcc")):
        with open(path, "rb") as file:
            for name, data in files_in(file.read()):
                if name.lower().endswith((".jpg", ".jpeg", ".png", ".webp")):
                    yield name, data


def portraits(part):
    """Pictures of people, each once."""
    paths = sorted({face["path"] for face in of_part(photographed(), part)})
    found = [cv2.imread(path)[:, :, ::-1] for path in paths]
    return [picture for picture in found if min(picture.shape[:2]) >= 48]


def rendered(part):
    """The demo's scenes and people before anything is done to them; none is held out."""
    if part == "held":
        return []
    paths = sorted(glob.glob(os.path.join(os.path.dirname(os.path.abspath(__file__)), "..", "demo", "plates", "*.png")))
    return [cv2.resize(bgr, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)[:, :, ::-1]
            for bgr in map(cv2.imread, paths) for scale in [min(1, 900 / max(bgr.shape[:2]))]]


class ColourLibrary:
    """Coloured pictures of four kinds, by turns, and textures that are named."""

    def __init__(self, part):
        photos = pictures_of("photo", part)
        of = lambda wanted: [array for array, package in photos if (package in PHOTOGRAPHS) == wanted and coloured(array)]
        beside = demo_photographs(part) + [picture for found in scenes(part).values() for picture in found.values()]
        self.kinds = [of(True) + [p for p in beside if coloured(p)], portraits(part), of(False), [p for p in rendered(part) if coloured(p)]]
        self.named = [pair for found in named_textures(part).values() for pair in found]

    def pick(self, random):
        """A picture and what it is of: a place in NAMES, or NAMELESS."""
        if self.named and random.random() < NAMED:
            return self.named[random.integers(len(self.named))]
        chance, kind = random.random(), self.kinds[0]
        for share, other in zip((PEOPLE, TEXTURES, RENDERED), self.kinds[1:]):
            if 0 <= chance < share and other:
                kind = other
            chance -= share
        return np.asarray(kind[random.integers(len(kind))]), NAMELESS

    def patch(self, side, random):
        """
        (side, side, 3) RGB floats: a quarter to all of a picture, a little askew and stretched, perhaps in the mirror; sometimes beside a part of another
        one, so that no colour is told by the rest of the picture alone. And what each place is of (side, side), as in `pick`.
        """
        part, name = self.part(side, random)
        names = np.full((side, side), name)
        if random.random() < 0.25:
            at = int(side * random.uniform(0.3, 0.7))
            other, name = self.part(side, random)
            beside = np.s_[:, at:] if random.random() < 0.5 else np.s_[at:]
            part[beside], names[beside] = other[beside], name
        return np.clip(part, 0, 255).astype(np.float32), names

    def part(self, side, random):
        rgb, name = self.pick(random)
        h, w = rgb.shape[:2]
        wide = min(h, w) * random.uniform(0.25, 1)
        tall = wide * np.exp(random.uniform(-0.2, 0.2))
        turn = np.deg2rad(random.normal(0, 5))
        x, y = (random.uniform(min(reach, extent) / 2, extent - min(reach, extent) / 2) for reach, extent in ((wide, w), (tall, h)))
        across = np.array([np.cos(turn), np.sin(turn)]) * wide / side * (1 if random.random() < 0.5 else -1)
        down = np.array([-np.sin(turn), np.cos(turn)]) * tall / side
        # From the patch to the picture.
        way = np.array([[across[0], down[0], x - (across[0] + down[0]) * side / 2], [across[1], down[1], y - (across[1] + down[1]) * side / 2]])
        by = max(1.0, max(wide, tall) / side)
        smaller = cv2.resize(np.asarray(rgb), None, fx=1 / by, fy=1 / by, interpolation=cv2.INTER_AREA) if by > 1 else np.asarray(rgb)
        flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
        return cv2.warpAffine(smaller, way / by, (side, side), flags=flags, borderMode=cv2.BORDER_REFLECT_101), name


def filmed(rgb, random):
    """
    Luma as a film may have had it: of all colours as the eye sees them (panchromatic), of blue and green alone (orthochromatic,
    until about 1930), or with other weights; in another contrast, faded, soft, grainy.
    """
    chance = random.random()
    if chance < 0.5:
        weights = LUMA
    elif chance < 0.65:
        weights = np.array([0.03, 0.5, 0.47])
    else:
        weights = random.dirichlet([3, 5, 2])
    grey = rgb @ weights.astype(np.float32) / 255
    grey = np.clip(grey, 0, 1) ** np.exp(random.normal(0, 0.25))
    if random.random() < 0.5:
        black, white = random.uniform(0, 0.2), random.uniform(0.75, 1)
        grey = black + (white - black) * grey
    grey = (255 * grey).astype(np.float32)
    if random.random() < 0.4:
        grey = blurred(grey, random.uniform(0.3, 1.5))
    if random.random() < 0.4:
        planes = np.repeat(grey[:, :, None], 3, 2)
        grey = add_grain(planes, random.uniform(1, 12), 0, random, False)[:, :, 0]
    return np.clip(grey, 0, 255)


def shares(chroma):
    """(h, w, 2) chroma, 0 for grey, as shares of the four classes round it: places in BINS (h, w, 4) and weights (h, w, 4)."""
    places = np.full((2 * RADIUS + 3, 2 * RADIUS + 3), -1)
    for n, (b, r) in enumerate(BINS):
        places[b + RADIUS, r + RADIUS] = n
    steps = chroma / SPACING
    far = np.maximum(1, np.hypot(steps[:, :, 0], steps[:, :, 1]) / (RADIUS - 1.5))
    steps = steps / far[:, :, None]
    low = np.floor(steps).astype(int)
    rest = steps - low
    at, weights = [], []
    for b in (0, 1):
        for r in (0, 1):
            at.append(places[low[:, :, 0] + b + RADIUS, low[:, :, 1] + r + RADIUS])
            weights.append((rest[:, :, 0] if b else 1 - rest[:, :, 0]) * (rest[:, :, 1] if r else 1 - rest[:, :, 1]))
    return np.stack(at, 2), np.stack(weights, 2).astype(np.float32)


class ColourSamples:
    """
    Luma as filmed (side, side) over 1, the chroma the picture had (side / 4, side / 4, 2) in codes, 0 for grey, and what is shown
    (side / 4, side / 4): places in NAMES, or NAMELESS.
    """

    def __init__(self, part, side, seed):
        self.side = side
        self.random = np.random.default_rng(seed)
        self.library = ColourLibrary(part)

    def one(self):
        rgb, names = self.library.patch(self.side, self.random)
        small = cv2.resize(rgb, (self.side // FOLD, self.side // FOLD), interpolation=cv2.INTER_AREA)
        return (filmed(rgb, self.random) / 255).astype(np.float32), to_ycc(small)[:, :, 1:] - 128, names[FOLD // 2::FOLD, FOLD // 2::FOLD]

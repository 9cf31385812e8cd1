"""
What prints show that looks like damage and is none: spectacles, whose rims are as thin as hairs, lettering, and what people wear: ties, straps, collars and
cords. Each is drawn over RGB floats (h, w, 3) and returns them and how far each pixel is covered (h, w).
"""

import glob

import cv2
import numpy as np
from PIL import Image, ImageDraw, ImageFont

from drawn import SYLLABLES

# Drawn at so many times the size, then reduced.
FINER = 4
# Fonts of Debian's packages fonts-dejavu-core, fonts-liberation, fonts-freefont-ttf and fonts-lato.
FONTS = [f"/usr/share/fonts/truetype/{family}/*.ttf" for family in ("dejavu", "liberation", "freefont", "lato")]
# Half the width of a lens, in pixels; heights of letters.
LENS, LETTERS = (4, 45), (6, 70)
# Lengths of ties, straps and cords, in pixels, their widths over their lengths, and the least width: what is thinner looks like hairs and scratches.
BAND, SLENDER, THINNEST = (16, 150), (0.06, 0.3), 3.5


def laid_on(rgb, cover, colour, opacity):
    """A colour over what the cover, drawn finer, covers; and how far that is, 0 to 1."""
    covered = cv2.resize(cover, rgb.shape[1::-1], interpolation=cv2.INTER_AREA).astype(np.float32) / 255
    share = opacity * covered[:, :, None]
    return (rgb + share * (np.clip(colour, 0, 255).astype(np.float32) - rgb)).astype(np.float32), covered


def outline(random, rx, ry):
    """A lens: round, oval, or with corners that are more or less round (a superellipse)."""
    t = np.linspace(0, 2 * np.pi, 60, endpoint=False)
    power = 1 if random.random() < 0.6 else random.uniform(0.3, 0.8)
    bent = lambda v: np.sign(v) * np.abs(v) ** power
    return np.stack([rx * bent(np.cos(t)), ry * bent(np.sin(t))], 1)


def spectacles(rgb, random):
    """A pair of spectacles anywhere, as large as faces are."""
    h, w = rgb.shape[:2]
    rx = float(np.exp(random.uniform(*np.log(LENS))))
    ry, apart = rx * random.uniform(0.6, 1.1), rx * random.uniform(1.15, 1.5)
    angle = random.normal(0, 0.12)
    turn = np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
    middle = np.array([random.uniform(0.1, 0.9) * w, random.uniform(0.1, 0.9) * h])
    cover = np.zeros((h * FINER, w * FINER), np.uint8)
    wide = max(1, round(FINER * random.uniform(0.07, 0.22) * rx ** 0.7 * 1.6))

    def drawn(points, closed):
        placed = (np.asarray(points) @ turn + middle) * FINER
        cv2.polylines(cover, [np.int32(placed)], closed, 255, wide, cv2.LINE_AA)

    lens = outline(random, rx, ry)
    for side in (-1, 1):
        drawn(lens * [side, 1] + [side * apart, 0], True)
        drawn([[side * (apart + rx), -0.3 * ry], [side * (apart + rx * random.uniform(1.3, 2.2)), -random.uniform(0, 0.6) * ry]], False)
    bow = np.linspace(-1, 1, 9)
    drawn(np.stack([bow * (apart - rx), -random.uniform(0, 0.6) * ry - random.uniform(0, 0.3) * ry * (1 - bow ** 2)], 1), False)
    tone = random.choice([15, 40, 70, 120, 190]) + random.normal(0, 12, 3) + random.uniform(0, 25) * np.array([1, 0.6, 0])
    return laid_on(rgb, cover, tone, random.uniform(0.5, 1))


def band(random, start, angle, length):
    """The outline of a band that bends a little and grows wider or narrower along its length, as ties do."""
    t = np.linspace(0, 1, 16)
    along, across = np.array([np.cos(angle), np.sin(angle)]), np.array([-np.sin(angle), np.cos(angle)])
    wide = max(THINNEST, length * float(np.exp(random.uniform(*np.log(SLENDER))))) / 2
    bend = random.normal(0, 0.15) * length * np.sin(np.pi * t)
    half = wide * (1 + random.uniform(-0.6, 0.6) * (t - 0.5))
    path = start + np.outer(length * t, along) + np.outer(bend, across)
    tip = path[-1] + along * wide * (random.random() < 0.4)
    return np.concatenate([path + np.outer(half, across), [tip], (path - np.outer(half, across))[::-1]])


def worn(rgb, random):
    """Ties, straps, collars and cords: up to four bands from one place, alike, plain or striped. No lines of their own: these look like scratches."""
    h, w = rgb.shape[:2]
    length, angle = float(np.exp(random.uniform(*np.log(BAND)))), random.normal(np.pi / 2, 0.5)
    middle = np.array([random.uniform(0.1, 0.9) * w, random.uniform(0, 0.8) * h])
    count, spread = int(random.integers(1, 5)), random.uniform(0, 0.8)
    covered = np.zeros((h, w), np.float32)
    tone = random.uniform(0, 255) + random.normal(0, 12, 3)
    for n in range(count):
        start = middle + random.normal(0, 0.4, 2) * length * (n > 0)
        outline = np.int32(band(random, start, angle + spread * (n - (count - 1) / 2), length * random.uniform(0.7, 1.1)) * FINER)
        cover = np.zeros((h * FINER, w * FINER), np.uint8)
        cv2.fillPoly(cover, [outline], 255, cv2.LINE_AA)
        rgb, seen = laid_on(rgb, cover, tone, random.uniform(0.75, 1))
        covered = np.maximum(covered, seen)
        if random.random() < 0.3:
            step, tilt = FINER * random.uniform(3, 10), random.uniform(-1, 1)
            y, x = np.mgrid[0:cover.shape[0], 0:cover.shape[1]]
            stripes = np.where((y + tilt * x) % step < 0.4 * step, cover, 0).astype(np.uint8)
            rgb, _ = laid_on(rgb, stripes, tone + random.choice([-70, 50, 90]), random.uniform(0.4, 1))
    return rgb, covered


def fonts():
    return sorted(file for files in FONTS for file in glob.glob(files))


def lettering(rgb, random, files):
    """A headline, a caption or lines of a column, printed or written over the picture, or on paper of its own."""
    h, w = rgb.shape[:2]
    size = float(np.exp(random.uniform(*np.log(LETTERS))))
    font = ImageFont.truetype(str(random.choice(files)), round(size * FINER))
    words = lambda: " ".join("".join(random.choice(SYLLABLES, int(random.integers(1, 4)))) for _ in range(int(random.integers(1, 9))))
    lines = [words().capitalize() if random.random() < 0.5 else words() for _ in range(1 if random.random() < 0.4 else int(random.integers(2, 12)))]
    sheet = Image.new("L", (w * FINER, h * FINER))
    at = int(random.uniform(-0.3, 0.6) * w * FINER), int(random.uniform(-0.1, 0.85) * h * FINER)
    ImageDraw.Draw(sheet).multiline_text(at, "\n".join(lines), 255, font, spacing=int(size * FINER * random.uniform(0.1, 0.6)))
    ink = random.uniform(0, 70) if random.random() < 0.75 else random.uniform(200, 255)
    if random.random() < 0.6:
        # Paper, or the plain ground that captions stand on.
        level = random.uniform(150, 250) if ink < 128 else random.uniform(10, 90)
        paper = level + random.normal(0, 8, 3)
        rgb = rgb + random.uniform(0.8, 1) * (paper.astype(np.float32) - rgb)
    return laid_on(rgb, np.asarray(sheet), ink + random.normal(0, 10, 3), random.uniform(0.6, 1))

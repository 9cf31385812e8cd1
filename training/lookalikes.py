"""
What prints show that looks like damage and is none: spectacles, whose rims are as thin as hairs, lettering, what people wear: ties with their knots, straps,
collars and cords, and the partings of their hair. Each is drawn over RGB floats (h, w, 3) and returns them and how far each pixel is covered (h, w).
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

# Widths of necks and half the widths of heads, in pixels.
NECK, HEAD = (10, 110), (9, 110)


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


def shirt_front(rgb, random):
    """A tie with its knot, or a bow, between the wings of a collar, on the shirt that a coat leaves to be seen."""
    h, w = rgb.shape[:2]
    size, angle = float(np.exp(random.uniform(*np.log(NECK)))), random.normal(0, 0.15)
    turn = np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
    pit = np.array([random.uniform(0.1, 0.9) * w, random.uniform(0.05, 0.85) * h])
    uneven = lambda: random.normal(0, 0.04, 2)
    covered = np.zeros((h, w), np.float32)
    shirt, coat, tie = (level + random.normal(0, 10, 3) for level in (random.uniform(140, 250), random.uniform(10, 130), random.uniform(5, 230)))

    def piece(points, tone, opacity, telling=True):
        nonlocal rgb, covered
        cover = np.zeros((h * FINER, w * FINER), np.uint8)
        placed = (np.array([point + uneven() for point in np.array(points, float)]) * size @ turn + pit) * FINER
        cv2.fillPoly(cover, [np.int32(placed)], 255, cv2.LINE_AA)
        rgb, seen = laid_on(rgb, cover, tone, opacity)
        if telling:
            covered = np.maximum(covered, seen)

    opening = random.uniform(0.9, 2.4)
    if random.random() < 0.8:
        piece([(-0.8, -0.4), (-2.2, 0.3), (-2.4, 3.2), (2.4, 3.2), (2.2, 0.3), (0.8, -0.4)], coat, random.uniform(0.8, 1), telling=False)
    piece([(-0.75, -0.3), (0.75, -0.3), (0, opening)], shirt, random.uniform(0.8, 1), telling=False)
    if random.random() < 0.25:
        wide, tall = random.uniform(0.3, 0.7), random.uniform(0.12, 0.28)
        for side in (-1, 1):
            piece([(0, 0.15), (side * wide, 0.15 - tall), (side * wide, 0.15 + tall)], tie, random.uniform(0.8, 1))
        piece([(-0.1, 0.07), (0.1, 0.07), (0.1, 0.23), (-0.1, 0.23)], tie + random.normal(0, 18), 0.9)
    else:
        wide, long, knot = random.uniform(0.16, 0.34), random.uniform(0.4, 1) * opening, random.uniform(0.1, 0.24)
        piece([(-0.5 * knot, 0.3), (0.5 * knot, 0.3), (wide, long), (0, long + 0.2), (-wide, long)], tie, random.uniform(0.8, 1))
        piece([(-knot, 0.02), (knot, 0.02), (0.6 * knot, 0.4), (-0.6 * knot, 0.4)], tie + random.normal(0, 18), random.uniform(0.8, 1))
        # The shade below the knot.
        piece([(-0.6 * knot, 0.38), (0.6 * knot, 0.38), (0.5 * knot, 0.45), (-0.5 * knot, 0.45)], tie - random.uniform(10, 60), 0.8)
    for side in (-1, 1):
        piece([(side * 0.75, -0.35), (side * 0.1, 0.05), (side * random.uniform(0.2, 0.5), random.uniform(0.4, 0.8)), (side * 0.9, 0.1)],
              shirt + random.normal(0, 12), random.uniform(0.8, 1))
    return rgb, covered


def parting(rgb, random):
    """The top of a head: hair in strands that part along a line of skin, and a streak of light on them."""
    h, w = rgb.shape[:2]
    size, angle = float(np.exp(random.uniform(*np.log(HEAD)))), random.normal(0, 0.4)
    middle = np.array([random.uniform(0.1, 0.9) * w, random.uniform(0.1, 0.9) * h])
    y, x = np.mgrid[0:h, 0:w].astype(np.float32)
    across = ((x - middle[0]) * np.cos(angle) + (y - middle[1]) * np.sin(angle)) / size
    along = ((y - middle[1]) * np.cos(angle) - (x - middle[0]) * np.sin(angle)) / (size * random.uniform(0.7, 1.2))
    skull = np.clip((1 - np.hypot(across, along)) * size * 0.35, 0, 1) * np.clip((0.4 - along) * size * 0.3, 0, 1)
    hair = random.uniform(10, 190) + random.uniform(0, 30) * np.array([1, 0.75, 0.5])
    # Strands leave the parting to both sides and bend down.
    at, bend = random.uniform(-0.6, 0.6), random.normal(0, 0.3)
    off = across - at - bend * (along + 0.6) ** 2
    strands = cv2.resize(random.normal(0, 1, (1, max(8, int(size * 3)))).astype(np.float32), (4096, 1), interpolation=cv2.INTER_CUBIC)[0]
    lie = along + 0.5 * np.abs(off) ** 1.5
    grain = strands[np.clip(((lie + 1.6) / 3.2 * 4095), 0, 4095).astype(int)] * random.uniform(3, 22)
    light = random.uniform(0, 90) * np.exp(-((lie - random.uniform(-0.7, 0.2)) / random.uniform(0.08, 0.3)) ** 2)
    head = hair[None, None] + (grain + light)[:, :, None]
    wide = max(1.2, size * float(np.exp(random.uniform(*np.log((0.02, 0.08))))))
    front, back = random.uniform(-0.2, 0.3), random.uniform(-1, -0.7)
    ends = np.clip((front - along) * 4, 0, 1) * np.clip((along - back) * 4, 0, 1)
    line = np.clip(wide / 2 - np.abs(off) * size + 0.5, 0, 1) * ends * (skull > 0.5)
    skin = np.clip(hair + random.uniform(25, 130), 0, 245)
    head = head + (random.uniform(0.5, 1) * cv2.GaussianBlur(line, (0, 0), random.uniform(0.4, 1.2)))[:, :, None] * (skin - head)
    rgb = rgb + skull[:, :, None] * (np.clip(head, 0, 255) - rgb)
    return rgb.astype(np.float32), np.maximum(line, 0.3 * skull).astype(np.float32)


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

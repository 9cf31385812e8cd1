"""
What befalls prints and negatives, drawn over pictures with its truth: specks, hairs, scratches, folds and tears, cracks, stains.

Every kind takes RGB floats (h, w, 3), a random generator and a scale (1 for a small scan, 3 for a fine one) and returns the damaged
picture and how much of each pixel it covers (h, w), 0 to 1.
"""

import cv2
import numpy as np

# Drawn so many times finer, then gathered.
FINER = 3
SHIFT = 4
KINDS = ("specks", "hairs", "scratches", "folds", "cracks", "stains")
# A pixel counts as damaged when it is covered so far and changed by so many codes of 255; less than LEAST of either, and it does not.
COVERED, CHANGED = 0.3, {"specks": 10, "hairs": 8, "scratches": 8, "folds": 8, "cracks": 8, "stains": 14}
LEAST_COVERED, LEAST_CHANGED = 0.05, 2.5
# In texture damage is seen from so many of its deviations on, taken over a square of so many pixels; what is not seen may be disputed.
# A small spot is one shape among many of the texture; a line is followed, and is seen sooner.
SEEN, AROUND = {"specks": 1.5, "hairs": 1.0, "scratches": 1.0, "folds": 1.0, "cracks": 1.0, "stains": 1.0}, 9


class Canvas:
    """Covers drawn finer than the picture's raster."""

    def __init__(self, shape):
        self.shape = shape
        self.drawn = np.zeros((shape[0] * FINER, shape[1] * FINER), np.uint8)

    def points(self, xy):
        return np.round(np.asarray(xy) * FINER * (1 << SHIFT)).astype(np.int32)

    def line(self, a, b, width, level=1.0):
        a, b = (tuple(int(v) for v in p) for p in self.points([a, b]))
        cv2.line(self.drawn, a, b, int(255 * level), max(1, round(width * FINER)), cv2.LINE_8, SHIFT)

    def path(self, xy, widths, levels=None):
        for i in range(len(xy) - 1):
            self.line(xy[i], xy[i + 1], widths[i], 1.0 if levels is None else levels[i])

    def blob(self, xy):
        cv2.fillPoly(self.drawn, [self.points(xy)], 255, cv2.LINE_8, SHIFT)

    def cover(self):
        return cv2.resize(self.drawn, self.shape[::-1], interpolation=cv2.INTER_AREA).astype(np.float32) / 255


def smooth_noise(shape, size, random):
    """Noise of deviation 1 that changes over `size` pixels; worked small, for it is smooth."""
    small = max(1, int(size / 3))
    h, w = shape[0] // small + 8, shape[1] // small + 8
    field = cv2.GaussianBlur(random.standard_normal((h, w), np.float32), (0, 0), size / small)
    field = cv2.resize(field, (w * small, h * small), interpolation=cv2.INTER_CUBIC)
    y, x = (int(random.integers(extent * small - wanted + 1)) for extent, wanted in ((h, shape[0]), (w, shape[1])))
    field = field[y:y + shape[0], x:x + shape[1]]
    return field / (field.std() + 1e-6)


def wander(random, count, size):
    """A smooth wave along a line, of deviation 1."""
    steps = random.standard_normal(count + 8)
    kernel = np.exp(-0.5 * (np.arange(-4, 5) / max(0.3, size)) ** 2)
    wave = np.convolve(steps, kernel, "same")[4:-4]
    return wave / (wave.std() + 1e-6)


def tone(random):
    """What dust and bare paper look like: mostly near white or near black, sometimes brown."""
    chance = random.random()
    if chance < 0.45:
        level = random.uniform(205, 255)
        return np.array([level, level - random.uniform(0, 12), level - random.uniform(0, 30)], np.float32)
    if chance < 0.85:
        return np.float32(random.uniform(0, 60)) + random.uniform(0, 12, 3).astype(np.float32)
    level = random.uniform(60, 190)
    return level * np.array([1, random.uniform(0.75, 1), random.uniform(0.5, 1)], np.float32)


def laid(rgb, cover, colour):
    return rgb + cover[:, :, None] * (colour - rgb)


def softened(cover, random, scale=1.0):
    """As lenses of scanners soften all they see."""
    sigma = random.uniform(0, 0.7) * scale ** 0.5
    return cover if sigma < 0.2 else cv2.GaussianBlur(cover, (0, 0), sigma)


def blob_outline(random, x, y, radius):
    count = int(random.integers(6, 14))
    angles = np.sort(random.uniform(0, 2 * np.pi, count))
    reach = radius * np.exp(0.3 * random.standard_normal(count))
    # Not as spiky as chance alone would have it.
    reach = 0.5 * reach + 0.25 * (np.roll(reach, 1) + np.roll(reach, -1))
    long, turn = random.uniform(1, 1.8), random.uniform(0, np.pi)
    u, v = reach * np.cos(angles) * long, reach * np.sin(angles) / long ** 0.5
    return np.stack([x + u * np.cos(turn) - v * np.sin(turn), y + u * np.sin(turn) + v * np.cos(turn)], 1)


def specks(rgb, random, scale):
    """Dust and small spots, of one or several origins."""
    h, w = rgb.shape[:2]
    covered = np.zeros((h, w), np.float32)
    for _ in range(int(random.integers(1, 4))):
        canvas = Canvas((h, w))
        typical = scale * random.uniform(0.7, 2.2)
        for _ in range(int(1 + random.exponential(7))):
            radius = float(np.clip(typical * np.exp(0.5 * random.standard_normal()), 0.6, 9 * scale))
            canvas.blob(blob_outline(random, random.uniform(0, w), random.uniform(0, h), radius))
        cover = softened(canvas.cover(), random, scale) * random.uniform(0.45, 1)
        if random.random() < 0.2:
            # Dust that lies on the glass throws a shadow.
            dx, dy = random.uniform(-2, 2, 2) * scale
            shade = cv2.warpAffine(cover, np.float32([[1, 0, dx], [0, 1, dy]]), (w, h))
            rgb = rgb * (1 - 0.35 * np.clip(shade - cover, 0, 1)[:, :, None])
        rgb = laid(rgb, cover, tone(random))
        covered = np.maximum(covered, cover)
    return rgb, covered


def curve(random, x, y, length, bend, step=2.0):
    """A path whose direction drifts; hairs curl, some into loops."""
    count = max(3, int(length / step))
    turning = np.cumsum(bend * random.standard_normal(count) * 0.12) + random.normal(0, bend * 0.02)
    angle = random.uniform(0, 2 * np.pi) + np.cumsum(turning * 0.35)
    return np.stack([x + step * np.cumsum(np.cos(angle)), y + step * np.cumsum(np.sin(angle))], 1)


def hairs(rgb, random, scale):
    """Hairs and fibres."""
    h, w = rgb.shape[:2]
    covered = np.zeros((h, w), np.float32)
    for _ in range(int(1 + random.exponential(1.2))):
        canvas = Canvas((h, w))
        length = scale ** 0.7 * random.uniform(15, 160)
        xy = curve(random, random.uniform(0, w), random.uniform(0, h), length, random.uniform(0.1, 0.9), step=2 * scale)
        width = scale * random.uniform(0.6, 1.7)
        ends = np.minimum(1, np.minimum(np.arange(len(xy)), np.arange(len(xy))[::-1]) / 4 + 0.4)
        canvas.path(xy, width * ends)
        cover = softened(canvas.cover(), random, scale) * random.uniform(0.4, 1)
        rgb = laid(rgb, cover, tone(random))
        covered = np.maximum(covered, cover)
    return rgb, covered


def scratches(rgb, random, scale):
    """Straight scratches, alone or side by side, deeper and shallower along their way."""
    h, w = rgb.shape[:2]
    covered = np.zeros((h, w), np.float32)
    for _ in range(int(random.integers(1, 4))):
        canvas = Canvas((h, w))
        angle = random.choice([0, np.pi / 2]) + random.normal(0, 0.08) if random.random() < 0.4 else random.uniform(0, np.pi)
        along, across = np.array([np.cos(angle), np.sin(angle)]), np.array([-np.sin(angle), np.cos(angle)])
        length = random.uniform(0.15, 1.6) * max(h, w)
        start = np.array([random.uniform(0, w), random.uniform(0, h)]) - along * length * random.uniform(0, 1)
        count = max(4, int(length / (3 * scale)))
        sweep = random.normal(0, 0.06) * length
        t = np.linspace(0, 1, count)
        for _ in range(1 if random.random() < 0.7 else int(random.integers(2, 5))):
            apart = random.normal(0, 8) * scale
            off = apart + sweep * t * (1 - t) + scale * random.uniform(0, 0.5) * wander(random, count, 4)
            xy = start + along * (t * length)[:, None] + across * off[:, None]
            depth = np.clip(random.uniform(0.5, 1) + random.uniform(0, 0.4) * wander(random, count, 3), 0, 1)
            canvas.path(xy, scale * random.uniform(0.5, 2.4) * np.clip(1 + 0.3 * wander(random, count, 2), 0.4, 2), depth)
        cover = softened(canvas.cover(), random, scale) * random.uniform(0.35, 1)
        rgb = laid(rgb, cover, tone(random))
        covered = np.maximum(covered, cover)
    return rgb, covered


# Deviation of how much lighter or darker the paper beside a fold is, bent as it is, in codes of 255.
BENT = 22


def folds(rgb, random, scale, bending=BENT):
    """A fold or a tear: the layer flaked off along an uneven line, and the paper bent on both sides of it."""
    h, w = rgb.shape[:2]
    y, x = np.mgrid[0:h, 0:w].astype(np.float32)
    covered = np.zeros((h, w), np.float32)
    for _ in range(1 if random.random() < 0.75 else 2):
        torn = random.random() < 0.35
        angle = random.choice([0, np.pi / 2]) + random.normal(0, 0.1) if random.random() < 0.6 else random.uniform(0, np.pi)
        u = (x - random.uniform(0.1, 0.9) * w) * np.cos(angle) + (y - random.uniform(0.1, 0.9) * h) * np.sin(angle)
        v = (y - random.uniform(0.1, 0.9) * h) * np.cos(angle) - (x - random.uniform(0.1, 0.9) * w) * np.sin(angle)
        reach = int(np.ceil(max(h, w) * 1.6))
        wave = (random.uniform(2, 9) if torn else random.uniform(0, 1.2)) * scale * wander(random, 2 * reach, random.uniform(8, 20))
        wave = wave + (random.uniform(0.3, 1.2) if torn else 0.3) * scale * wander(random, 2 * reach, 1.5)
        place = np.clip(u + reach, 0, 2 * reach - 1).astype(np.int32)
        d = v - wave[place].astype(np.float32)
        # Flaked here more and there less, with ragged borders.
        wide = scale * random.uniform(0.5, 4.0) * np.clip(1 + 0.7 * wander(random, 2 * reach, 12), 0.0 if not torn else 0.5, 3)[place].astype(np.float32)
        ragged = np.abs(d) + scale * random.uniform(0.2, 1.0) * smooth_noise((h, w), 1.3 * scale, random)
        cover = np.clip(wide / 2 - ragged + 0.5, 0, 1)
        # A tear may end within the picture.
        end = random.uniform(-0.3, 0.5) * max(h, w) if torn and random.random() < 0.6 else -4.0 * reach
        cover = cover * np.clip((u - end) / 2, 0, 1)
        cover = softened(cover, random, scale) * random.uniform(0.6, 1)
        bent = np.exp(-np.abs(d) / (scale * random.uniform(1.5, 7))) * np.where(d > 0, random.normal(0, bending), random.normal(0, bending))
        bent = bent * np.clip((u - end) / 2, 0, 1)
        paper = (random.uniform(190, 250) if random.random() < 0.8 else random.uniform(20, 90)) * np.array([1, random.uniform(0.93, 1), random.uniform(0.8, 1)])
        grain = random.uniform(2, 12) * smooth_noise((h, w), 0.8 * scale, random)[:, :, None]
        rgb = laid(rgb + bent[:, :, None], cover, (paper + grain).astype(np.float32)).astype(np.float32)
        # Bending is seen as far as it is strong.
        covered = np.maximum(covered, np.maximum(cover, np.clip(np.abs(bent) / 30 - 0.1, 0, 1)))
    return rgb, covered


def cracks(rgb, random, scale):
    """A net of cracks in the layer, growing out of one another."""
    h, w = rgb.shape[:2]
    canvas = Canvas((h, w))
    ends = [(random.uniform(0, w), random.uniform(0, h), random.uniform(0, 2 * np.pi)) for _ in range(int(random.integers(1, 4)))]
    width = scale * random.uniform(0.5, 1.5)
    for _ in range(int(random.integers(3, 22))):
        x, y, angle = ends[int(random.integers(len(ends)))]
        count = int(random.integers(4, 22))
        angles = angle + np.cumsum(0.3 * random.standard_normal(count)) + 0.25 * random.standard_normal(count)
        step = scale * random.uniform(1.5, 3.5)
        xy = np.stack([x + step * np.cumsum(np.cos(angles)), y + step * np.cumsum(np.sin(angles))], 1)
        canvas.path(np.concatenate([[(x, y)], xy]), width * np.clip(1 + 0.35 * random.standard_normal(count + 1), 0.4, 2))
        for at in (count // 2, count - 1):
            ends.append((*xy[at], angles[at] + random.choice([-1.2, 0, 1.2]) + 0.3 * random.standard_normal()))
    cover = softened(canvas.cover(), random, scale) * random.uniform(0.45, 1)
    return laid(rgb, cover, tone(random)), cover


def stains(rgb, random, scale):
    """Stains or mould. Silver come to the surface is told from the whole of a print, by a network of its own."""
    return STAINS["spilled" if random.random() < 0.5 else "mould"](rgb, random, scale)


# Radii of spilled stains in pixels, times the root of the scale.
RADII = 5, 45


def spilled(rgb, random, scale, radii=RADII):
    """A stain with a border, sometimes a darker rim; what is below shows through."""
    h, w = rgb.shape[:2]
    y, x = np.mgrid[0:h, 0:w].astype(np.float32)
    covered = np.zeros((h, w), np.float32)
    for _ in range(int(random.integers(1, 4))):
        radius = scale ** 0.5 * random.uniform(*radii)
        d = np.hypot(x - random.uniform(0, w), (y - random.uniform(0, h)) * random.uniform(0.6, 1.6))
        d = d + radius * random.uniform(0.1, 0.35) * smooth_noise((h, w), radius * random.uniform(0.3, 0.8), random)
        soft = random.uniform(0.8, 5) * scale
        cover = np.clip((radius - d) / soft + 0.5, 0, 1)
        body = random.uniform(0.5, 1) + random.uniform(0, 0.25) * smooth_noise((h, w), radius * 0.4, random)
        if random.random() < 0.5:
            body = body + random.uniform(0.2, 0.8) * np.exp(-np.abs(radius - d) / (random.uniform(1, 4) * scale))
        tint = random.uniform(0.05, 0.5) * np.array([random.uniform(0.3, 1), random.uniform(0.5, 1.2), random.uniform(0.8, 1.6)])
        if random.random() < 0.25:
            tint = tint[::-1]
        amount = np.clip(cover * body, 0, 1.3)[:, :, None] * tint
        if random.random() < 0.2:
            rgb = rgb + amount * (250 - rgb)
        else:
            rgb = rgb * (1 - np.clip(amount, 0, 0.92))
        covered = np.maximum(covered, cover)
    return rgb.astype(np.float32), covered


def mouldy(rgb, random, scale):
    """Clusters of soft spots, and threads between them."""
    h, w = rgb.shape[:2]
    canvas = Canvas((h, w))
    for _ in range(int(random.integers(1, 4))):
        cx, cy, wide = random.uniform(0, w), random.uniform(0, h), random.uniform(6, 40) * scale ** 0.5
        for _ in range(int(random.integers(5, 40))):
            px, py = cx + wide * random.standard_normal(), cy + wide * random.standard_normal()
            canvas.blob(blob_outline(random, px, py, scale * random.uniform(0.7, 3.5)))
            if random.random() < 0.3:
                thread = curve(random, px, py, random.uniform(4, 22) * scale ** 0.5, 1.5)
                canvas.path(thread, np.full(len(thread), 0.6 * scale))
    cover = cv2.GaussianBlur(canvas.cover(), (0, 0), random.uniform(0.4, 1.3) * scale ** 0.5)
    cover = cover * random.uniform(0.4, 0.95)
    return laid(rgb, cover, tone(random)), cover


def silvered(rgb, random, scale):
    """Silver come to the surface from one side: dark parts turn to a bluish sheen."""
    h, w = rgb.shape[:2]
    y, x = np.mgrid[0:h, 0:w].astype(np.float32)
    d = (x, w - x, y, h - y)[int(random.integers(4))]
    wide = random.uniform(10, 70)
    cover = np.clip((wide - d) / (wide * random.uniform(0.15, 0.9)) + 0.4 * smooth_noise((h, w), random.uniform(4, 18), random), 0, 1)
    dark = np.clip(1.15 - rgb.mean(2) / 255, 0, 1)
    sheen = random.uniform(110, 215) * np.array([random.uniform(0.85, 1), random.uniform(0.92, 1.02), random.uniform(1, 1.15)])
    cover = (cover * dark * random.uniform(0.3, 0.85)).astype(np.float32)
    return laid(rgb, cover, sheen.astype(np.float32)), cover


DRAWN = dict(zip(KINDS, (specks, hairs, scratches, folds, cracks, stains)))
# What counts as stains, though little of it looks alike.
STAINS = {"spilled": spilled, "mould": mouldy, "silvering": silvered}


def blemished(rgb, random, kinds, scale=1.0, drawn=DRAWN):
    """
    A picture with damage of these kinds, what is damaged (h, w, KINDS) as 0 or 1, and where that is certain (h, w): what is neither
    clearly damaged nor clearly whole says nothing.
    """
    labels = np.zeros((*rgb.shape[:2], len(KINDS)), np.float32)
    mean = lambda plane: cv2.blur(plane, (AROUND, AROUND))
    texture = np.sqrt(np.maximum(0, mean(rgb.mean(2) ** 2) - mean(rgb.mean(2)) ** 2))
    sure = np.ones(rgb.shape[:2], np.float32)
    for kind in kinds:
        before = rgb
        rgb, cover = drawn[kind](rgb, random, scale)
        rgb = np.clip(rgb, 0, 255).astype(np.float32)
        changed = np.abs(rgb - before).max(2)
        damaged = (cover >= COVERED) & (changed >= np.maximum(CHANGED[kind], SEEN[kind] * texture))
        whole = (cover < LEAST_COVERED) | (changed < LEAST_CHANGED)
        labels[:, :, KINDS.index(kind)] = damaged
        sure[~damaged & ~whole] = 0
    # Whatever else may be doubtful there: what one kind has damaged is damaged.
    sure[labels.max(2) > 0] = 1
    return rgb, labels, sure

"""Damage that archive carriers do, with its strength known. Planes are float32 codes 0 to 255, full range.

The strengths that steer the networks, and what they mean:
  grain   standard deviation of the grain in codes, luma and chroma apart; the fine pattern of a photographed screen or
          of a halftone counts as grain;
  size    radius of the luma's grains in pixels, 0 for single pixels;
  step    quantiser step of a block codec in codes, on orthonormal transform coefficients (JPEG tables and the quantisers
          of MPEG-2 and MPEG-4 say it in this unit; H.264's counts two fifths, see coded.py);
  blur    standard deviation of the point spread, in pixels; what a resize or a doubled field leaves counts as blur.
"""

import cv2
import numpy as np

cv2.setNumThreads(1)

# Luma table of JPEG, Annex K.1 of ITU-T T.81.
JPEG_LUMA = np.array([
    16, 11, 10, 16, 24, 40, 51, 61, 12, 12, 14, 19, 26, 58, 60, 55, 14, 13, 16, 24, 40, 57, 69, 56, 14, 17, 22, 29, 51, 87,
    80, 62, 18, 22, 37, 56, 68, 109, 103, 77, 24, 35, 55, 64, 81, 104, 113, 92, 49, 64, 78, 87, 103, 121, 120, 101, 72, 92,
    95, 98, 112, 100, 103, 99], np.float32).reshape(8, 8)
# The table entries whose mean is called the step: the low frequencies, where blocks and ringing come from.
LOW = [(0, 1), (1, 0), (1, 1), (0, 2), (2, 0), (1, 2), (2, 1)]


def jpeg_step(quality):
    """Quantiser step of libjpeg's quality 1 to 100."""
    scale = 5000 / quality if quality < 50 else 200 - 2 * quality
    table = np.clip((JPEG_LUMA * scale + 50) // 100, 1, 255)
    return float(np.mean([table[a] for a in LOW]))


# Weights of red, green and blue in luma (ITU-R BT.601).
LUMA = np.array([0.299, 0.587, 0.114], np.float32)


def without_colour(rgb):
    """(h, w, 3) RGB without its colours."""
    return np.repeat((rgb @ LUMA)[:, :, None], 3, 2)


def to_ycc(rgb):
    """(h, w, 3) RGB to full-range BT.601 Y'CbCr."""
    r, g, b = (rgb[:, :, i].astype(np.float32) for i in range(3))
    y = 0.299 * r + 0.587 * g + 0.114 * b
    return np.stack([y, 128 + (b - y) * 0.564334, 128 + (r - y) * 0.713267], 2)


def to_rgb(ycc):
    y, cb, cr = ycc[:, :, 0], ycc[:, :, 1] - 128, ycc[:, :, 2] - 128
    return np.stack([y + 1.402 * cr, y - 0.344136 * cb - 0.714136 * cr, y + 1.772 * cb], 2)


def blurred(picture, sigma, disc=False):
    """Gaussian, or a disc of the same second moment: lenses out of focus make discs."""
    if sigma < 0.15:
        return picture
    if not disc:
        return cv2.GaussianBlur(picture, (0, 0), sigma, borderType=cv2.BORDER_REFLECT_101)
    radius = 2 * sigma
    n = int(np.ceil(radius))
    y, x = np.mgrid[-n:n + 1, -n:n + 1].astype(np.float32)
    kernel = np.clip(radius + 0.5 - np.hypot(x, y), 0, 1)
    return cv2.filter2D(picture, -1, kernel / kernel.sum(), borderType=cv2.BORDER_REFLECT_101)


def noise_field(shape, size, random, stretch=1.0):
    """Gaussian noise of deviation 1 whose grains have a radius of `size` pixels, `stretch` times as long sideways."""
    white = random.standard_normal(shape, np.float32)
    if size < 0.2:
        return white
    soft = cv2.GaussianBlur(white, (0, 0), sigmaX=size * stretch, sigmaY=size, borderType=cv2.BORDER_REFLECT_101)
    return soft / (soft.std() + 1e-6)


def luma_gain(luma, kind):
    """How the grain's strength follows the lightness; its mean square over the picture is 1."""
    if kind == "flat":
        return np.ones_like(luma)
    level = np.clip(luma / 255, 0, 1)
    # Negative film shows most grain in the middle tones; tape and early sensors in the shadows.
    gain = 0.35 + 2.6 * level * (1 - level) if kind == "film" else 1.3 - 0.9 * level
    return gain / np.sqrt((gain ** 2).mean())


def screen_pattern(shape, random):
    """The raster of a screen that was photographed, or of a halftone, off the pixels' raster, of deviation 1."""
    y, x = np.mgrid[0:shape[0], 0:shape[1]].astype(np.float32)
    angle, period = random.uniform(0, np.pi), random.uniform(2.05, 4)
    bend = random.normal(0, 0.0004)
    u, v = x * np.cos(angle) + y * np.sin(angle), y * np.cos(angle) - x * np.sin(angle)
    u = u + bend * v * v
    field = np.cos(2 * np.pi * u / period) + (np.cos(2 * np.pi * v / period) if random.random() < 0.6 else 0)
    return (field / (field.std() + 1e-6)).astype(np.float32)


def resized(picture, factor, random):
    """Reduced and enlarged again by a resize that left steps or ringing."""
    h, w = picture.shape[:2]
    small = cv2.resize(picture, (max(8, round(w / factor)), max(8, round(h / factor))), interpolation=cv2.INTER_AREA)
    how = [cv2.INTER_NEAREST, cv2.INTER_LINEAR, cv2.INTER_CUBIC, cv2.INTER_LANCZOS4][int(random.integers(4))]
    return cv2.resize(small, (w, h), interpolation=how)


def doubled_field(picture, random):
    """One field's lines only, the others filled from the line above or from both neighbours."""
    out = picture.copy()
    below = np.concatenate([picture[2::2], picture[-2:-1]], 0)[:len(out[1::2])]
    out[1::2] = picture[0::2] if random.random() < 0.3 else 0.5 * (picture[0::2] + below)
    return out


def moved_chroma(ycc, random):
    """Chroma a little beside its luma, as on tape."""
    out = ycc.copy()
    matrix = np.array([[1, 0, random.uniform(-1.6, 1.6)], [0, 1, random.uniform(-0.6, 0.6)]], np.float32)
    out[:, :, 1:] = cv2.warpAffine(ycc[:, :, 1:], matrix, ycc.shape[1::-1], flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return out


def grain_size(random):
    """Radius of the grains: single pixels half the time."""
    return 0.0 if random.random() < 0.5 else random.uniform(0.2, 1.3)


def add_grain(ycc, luma, chroma, random, half_chroma, size=None, screen=False):
    """
    Adds grain of the given deviations; returns the picture. Chroma noise of 4:2:0 lies on the coarser planes. With `screen`
    half of the luma's power is a screen's pattern.
    """
    out = ycc.copy()
    size = grain_size(random) if size is None else size
    if screen and luma > 0:
        luma *= np.sqrt(0.5)
        out[:, :, 0] += luma * screen_pattern(ycc.shape[:2], random)
    if luma > 0:
        kind = random.choice(["flat", "flat", "film", "dark"])
        out[:, :, 0] += luma * luma_gain(ycc[:, :, 0], kind) * noise_field(ycc.shape[:2], size, random)
    if chroma > 0:
        h, w = ycc.shape[:2]
        own = 0.0 if random.random() < 0.4 else random.uniform(0.2, 1.6)
        stretch = 1.0 if random.random() < 0.6 else random.uniform(1.5, 4)
        for c in (1, 2):
            if half_chroma:
                field = noise_field((h // 2, w // 2), own, random, stretch).repeat(2, 0).repeat(2, 1)
            else:
                field = noise_field((h, w), own, random, stretch)
            out[:, :, c] += chroma * field
    return out


def halve_chroma(ycc):
    """4:2:0 planes, each chroma sample repeated over its four pixels."""
    h, w = ycc.shape[:2]
    out = ycc.copy()
    small = ycc[:, :, 1:].reshape(h // 2, 2, w // 2, 2, 2).mean((1, 3))
    out[:, :, 1:] = small.repeat(2, 0).repeat(2, 1)
    return out


def halo(ycc, amount, sigma):
    """An edge enhancer's overshoot on the luma."""
    out = ycc.copy()
    out[:, :, 0] += amount * (ycc[:, :, 0] - cv2.GaussianBlur(ycc[:, :, 0], (0, 0), sigma))
    return out


def jpeg(ycc, quality, grey=False):
    """Through JPEG and back; colour is coded 4:2:0, as nearly all cameras and scanners do."""
    if grey:
        data = cv2.imencode(".jpg", np.clip(np.rint(ycc[:, :, 0]), 0, 255).astype(np.uint8), [cv2.IMWRITE_JPEG_QUALITY, quality])[1]
        out = ycc.copy()
        out[:, :, 0] = cv2.imdecode(data, cv2.IMREAD_GRAYSCALE)
        return out
    rgb = np.clip(np.rint(to_rgb(ycc)), 0, 255).astype(np.uint8)
    data = cv2.imencode(".jpg", rgb[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, quality])[1]
    return to_ycc(cv2.imdecode(data, cv2.IMREAD_COLOR)[:, :, ::-1])

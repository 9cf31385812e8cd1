"""Pictures that went through a video codec: true and coded frames with the quantiser step, made beforehand in numbers.

Clips slide over a picture or are moving layers, so that predicted frames with their smeared residue come up as well as
intra ones.
"""

import os
import subprocess

import cv2
import numpy as np

from degrade import add_grain, halve_chroma, halo, to_ycc
from drawn import drawn_frames
from layers import clip as layered
from sources import pictures, work_folder

WIDTH, HEIGHT = 352, 288
FRAMES, KEPT = 8, (0, 3, 5, 6)
CLIPS = 450
# Pixels of the picture a pixel of the wide view shows at least; few make soft frames, as lenses and tape do.
FINEST = 0.4


def view(rgb, matrix):
    """The picture through an affine window of twice the coded size."""
    return cv2.warpAffine(rgb, matrix, (2 * WIDTH, 2 * HEIGHT), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT_101)


def path(rgb, random):
    """Affine windows of a slide with a little zoom and turn; a third of the clips stand nearly still."""
    h, w = rgb.shape[:2]
    scale = min(1.0, w / (2 * WIDTH + 60), h / (2 * HEIGHT + 60)) * random.uniform(FINEST, 1.0)
    speed = random.uniform(-1, 1, 2) * (0.3 if random.random() < 0.33 else 12)
    turn, grow = random.normal(0, 0.004), random.normal(0, 0.006)
    start = np.array([random.uniform(0, max(1, w - 2 * WIDTH * scale)), random.uniform(0, max(1, h - 2 * HEIGHT * scale))])
    for t in range(FRAMES):
        s, a = scale * (1 + grow * t), turn * t
        c, n = np.cos(a) * s, np.sin(a) * s
        inverse = np.array([[c, -n, start[0] + speed[0] * t], [n, c, start[1] + speed[1] * t]])
        yield cv2.invertAffineTransform(inverse)


def wide_frames(pick, random):
    """A clip's frames at twice the coded size."""
    if random.random() < 0.5:
        return layered(pick, random, FRAMES, (2 * WIDTH, 2 * HEIGHT), FINEST)
    rgb = np.asarray(pick())
    return [view(rgb, matrix) for matrix in path(rgb, random)]


def codec(random):
    """
    Encoder arguments, and the step they quantise with. H.264 smooths its own blocks and leaves out what MPEG-2 would have coded
    coarsely: two fifths of its step leave as much noise. Short groups and few B frames bring up every kind of frame.
    """
    kind = random.choice(["mpeg2", "mpeg2", "h264", "h264", "mpeg4"])
    groups = ["-g", str(random.choice([2, 3, 12, 12])), "-bf", str(random.integers(0, 2 if kind == "mpeg4" else 3))]
    if kind == "h264":
        qp = int(random.integers(22, 42))
        preset = str(random.choice(["veryfast", "medium"]))
        return ["-c:v", "libx264", "-qp", str(qp), "-preset", preset, *groups], 0.25 * 2 ** (qp / 6)
    q = int(random.integers(2, 22))
    if kind == "mpeg4":
        return ["-c:v", "mpeg4", "-qscale:v", str(q), *groups], 2.0 * q
    return ["-c:v", "mpeg2video", "-qscale:v", str(q), *groups], 2.2 * q


def through(frames, arguments, width=WIDTH, height=HEIGHT):
    """8-bit 4:2:0 frames (as bytes) through an encoder and back."""
    size = f"{width}x{height}"
    raw = ["-f", "rawvideo", "-pix_fmt", "yuv420p", "-s", size]
    file = os.path.join(work_folder(), f"coded-{os.getpid()}.mkv")
    quiet = ["ffmpeg", "-v", "error"]
    subprocess.run([*quiet, "-y", *raw, "-r", "25", "-i", "-", *arguments, "-threads", "1", file], input=frames, check=True)
    out = subprocess.run([*quiet, "-i", file, "-f", "rawvideo", "-pix_fmt", "yuv420p", "-"], capture_output=True, check=True).stdout
    os.remove(file)
    return out


def pack(ycc):
    """Planar 4:2:0 bytes of a (h, w, 3) picture whose chroma is repeated."""
    return b"".join(np.clip(np.rint(p), 0, 255).astype(np.uint8).tobytes() for p in (ycc[:, :, 0], ycc[::2, ::2, 1], ycc[::2, ::2, 2]))


def unpack(data, index):
    size = WIDTH * HEIGHT * 3 // 2
    part = np.frombuffer(data, np.uint8, size, index * size)
    y = part[:WIDTH * HEIGHT].reshape(HEIGHT, WIDTH)
    c = part[WIDTH * HEIGHT:].reshape(2, HEIGHT // 2, WIDTH // 2).repeat(2, 1).repeat(2, 2)
    return np.stack([y, c[0], c[1]], 2)


def make(kind, part):
    """Writes arrays: large (true luma at twice the size), true, coded (Y'CbCr) and strengths (grain luma, chroma, step)."""
    random = np.random.default_rng(7 if part == "train" else 8)
    library = pictures("photo", part) if kind == "photo" else drawn_frames(part)
    count = CLIPS if kind == "photo" else CLIPS // 3
    large, true, coded, strengths = [], [], [], []
    for _ in range(count if part == "train" else count // 10):
        luma, chroma = (random.uniform(0, 12), random.uniform(0, 8)) if random.random() < 0.3 else (0.0, 0.0)
        arguments, step = codec(random)
        edge = random.uniform(0.2, 0.9) if random.random() < 0.15 else 0.0
        clip, sent = [], []
        for frame in wide_frames(lambda: library[random.integers(len(library))], random):
            wide = to_ycc(frame)
            small = halve_chroma(cv2.resize(wide, (WIDTH, HEIGHT), interpolation=cv2.INTER_AREA))
            clip.append((wide[:, :, 0], small))
            sent.append(pack(add_grain(halo(small, edge, 1.2), luma, chroma, random, True)))
        back = through(b"".join(sent), arguments)
        for t in KEPT:
            large.append(np.clip(np.rint(clip[t][0]), 0, 255).astype(np.uint8))
            true.append(np.clip(np.rint(clip[t][1]), 0, 255).astype(np.uint8))
            coded.append(unpack(back, t))
            strengths.append((luma, chroma, step))
    for name, list_ in (("large", large), ("true", true), ("coded", coded), ("strengths", np.array(strengths, np.float32))):
        np.save(os.path.join(work_folder(), f"coded-{kind}-{part}-{name}.npy"), np.stack(list_))


def coded(kind, part):
    """The four arrays of `make`, made when they are not there; memory-mapped."""
    names = [os.path.join(work_folder(), f"coded-{kind}-{part}-{n}.npy") for n in ("large", "true", "coded", "strengths")]
    if not all(os.path.exists(n) for n in names):
        make(kind, part)
    return [np.load(n, mmap_mode="r") for n in names]

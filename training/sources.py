"""Pictures to learn from: photographs and drawings that Debian packages carry, reduced, sorted and kept as arrays.

Every picture is either for training or held out; a hash of its name decides, so that the choice never changes.
Pictures that look alike (one photograph in several sizes) are kept once.
"""

import hashlib
import io
import os
import subprocess
import zipfile

import cv2
import numpy as np
from PIL import Image

# Debian packages the pictures come from, and their licences as /usr/share/doc/PACKAGE/copyright has them.
PACKAGES = {
    "mate-backgrounds": "GPL-2+, CC-BY-SA-4.0",
    "opencv-doc": "Apache-2.0, BSD",
    "gnome-backgrounds": "CC-BY-SA-3.0",
    "plasma-workspace-wallpapers": "GPL-2+",
    "lomiri-wallpapers-16.04": "CC-BY, CC-BY-SA, CC0",
    "lomiri-wallpapers-20.04": "CC-BY, CC-BY-SA, CC0",
    "ukui-wallpapers": "CC-BY-SA-3.0",
    "tuxpaint-stamps-default": "GPL-2",
    "ufoai-textures": "GPL-2+, CC-BY-SA-3.0, CC-BY-3.0, public domain",
    "nexuiz-textures": "GPL-2+",
    "python3-skimage": "BSD, CC0, public domain",
    "supertuxkart-data": "CC-BY-SA, CC-BY, CC0, GPL, public domain",
    "openclipart-png": "public domain",
    "torcs-data": "GPL-2+, Free Art License",
    "gcompris-qt-data": "CC-BY-SA, CC-BY, CC0, GPL, public domain",
}
# Not taken any more; earlier weights may have seen two pictures of it, the tables of letters charmap.jpg and charmap.png, which are
# GPL-2+. Its photographs, one of them under a licence that is not, come in files of a kind that `files_of` never read.
FORMER = {"jigzo-data": {"pictures": 2, "licence": "GPL-2+"}}
# Of these, the ones that carry photographs; the rest are mostly textures of games.
PHOTOGRAPHS = {
    "mate-backgrounds", "opencv-doc", "gnome-backgrounds", "plasma-workspace-wallpapers", "lomiri-wallpapers-16.04",
    "lomiri-wallpapers-20.04", "ukui-wallpapers", "tuxpaint-stamps-default", "python3-skimage",
}
PICTURE = (".jpg", ".jpeg", ".png", ".webp", ".tga")
# Pictures of one package that are worth it at most, so that no package rules the rest.
MOST = 400
LONG_SIDE = 1600


def work_folder():
    """Where made data and checkpoints are kept: WAIRETIC_TRAINING, or training/made."""
    folder = os.environ.get("WAIRETIC_TRAINING") or os.path.join(os.path.dirname(os.path.abspath(__file__)), "made")
    os.makedirs(folder, exist_ok=True)
    return folder


def held_out(name):
    """Whether a picture is never trained on: one in eight, by the SHA-256 of its full name."""
    return hashlib.sha256(name.encode()).digest()[0] < 32


def files_of(package):
    """Names and bytes of the pictures in a package, also inside its archives."""
    try:
        listed = subprocess.run(["dpkg", "-L", package], capture_output=True, text=True, check=True).stdout.splitlines()
    except (subprocess.CalledProcessError, FileNotFoundError):
        return
    for path in sorted(listed):
        if not os.path.isfile(path):
            continue
        if path.lower().endswith(PICTURE):
            with open(path, "rb") as file:
                yield path, file.read()
        elif path.endswith(".pk3"):
            with zipfile.ZipFile(path) as archive:
                for name in sorted(archive.namelist()):
                    if name.lower().endswith(PICTURE):
                        yield f"{path}:{name}", archive.read(name)


def kind_of(rgb):
    """'photo', 'drawn', or None for what teaches nothing."""
    grey = cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY).astype(np.float32)
    h, w = grey.shape[0] // 8 * 8, grey.shape[1] // 8 * 8
    blocks = grey[:h, :w].reshape(h // 8, 8, w // 8, 8).transpose(0, 2, 1, 3).reshape(-1, 64)
    spread = blocks.std(1)
    flat = float((spread < 0.6).mean())
    if flat > 0.97 or grey.std() < 8:
        return None
    return "drawn" if flat > 0.30 else "photo"


def finest(rgb, coded):
    """Reduced so that traces of the picture's own compression go, and to a size like a scan's."""
    h, w = rgb.shape[:2]
    scale = min(1.0, LONG_SIDE / max(h, w))
    if max(h, w) >= 700 or (coded and min(h, w) >= 360):
        scale = min(scale, 0.6)
    if scale == 1.0:
        return rgb
    return cv2.resize(rgb, (round(w * scale), round(h * scale)), interpolation=cv2.INTER_AREA)


def decode(data):
    picture = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
    if picture is None:
        try:
            picture = np.asarray(Image.open(io.BytesIO(data)).convert("RGB"))[:, :, ::-1]
        except (OSError, ValueError):
            return None
    if picture is None or picture.ndim != 3 or picture.dtype != np.uint8:
        return None
    if picture.shape[2] == 4:
        alpha = picture[:, :, 3:].astype(np.float32) / 255
        if alpha.mean() < 0.3:
            return None
        picture = (picture[:, :, :3] * alpha + 200 * (1 - alpha)).astype(np.uint8)
    return cv2.cvtColor(picture, cv2.COLOR_BGR2RGB)


def looks(rgb):
    """A small grey picture that is alike for copies in other sizes."""
    small = cv2.resize(cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY), (12, 12), interpolation=cv2.INTER_AREA).astype(np.float32)
    return (small - small.mean()) / (small.std() + 1e-3)


def collect():
    """Gathers all pictures into the work folder: one array a picture, and pictures.csv that lists them."""
    folder = os.path.join(work_folder(), "pictures")
    listing = os.path.join(work_folder(), "pictures.csv")
    if os.path.exists(listing):
        return
    os.makedirs(folder, exist_ok=True)
    seen, rows = [], []
    for package in PACKAGES:
        kept = 0
        for name, data in files_of(package):
            if kept >= MOST:
                break
            if len(data) < 12000:
                continue
            rgb = decode(data)
            if rgb is None or min(rgb.shape[:2]) < 220:
                continue
            kind = kind_of(rgb)
            look = looks(rgb)
            if kind is None or any(float(np.abs(look - other).mean()) < 0.12 for other in seen):
                continue
            seen.append(look)
            rgb = finest(rgb, name.lower().endswith((".jpg", ".jpeg")))
            if min(rgb.shape[:2]) < 208:
                continue
            part = "held" if held_out(name) else "train"
            file = f"{len(rows):04d}.npy"
            np.save(os.path.join(folder, file), rgb)
            rows.append(f"{file}\t{kind}\t{part}\t{package}\t{name}")
            kept += 1
        print(package, kept, flush=True)
    with open(listing + ".new", "w") as out:
        out.write("\n".join(rows) + "\n")
    os.rename(listing + ".new", listing)


def pictures_of(kind, part, names=("",)):
    """
    Pairs of an array (height, width, 3) of 8-bit RGB, memory-mapped, and its package; `kind` photo or drawn, `part` train or
    held, and one of `names` somewhere in the file's name.
    """
    folder = os.path.join(work_folder(), "pictures")
    with open(os.path.join(work_folder(), "pictures.csv")) as rows:
        fields = [row.rstrip("\n").split("\t") for row in rows]
    wanted = [f for f in fields if f[1] == kind and f[2] == part and f[3] in PACKAGES and any(n in f[4] for n in names)]
    return [(np.load(os.path.join(folder, f[0]), mmap_mode="r"), f[3]) for f in wanted]


def pictures(kind, part, names=("",)):
    """The arrays of `pictures_of`."""
    return [array for array, _ in pictures_of(kind, part, names)]


if __name__ == "__main__":
    collect()

"""Faces to learn from: photographs that npm packages carry, mixed by their meshes into faces that are nobody's.

Every person is either for training or held out: of each folder an eighth, by a hash of the picture's name without its package and variant.
"""

import hashlib
import json
import os
import subprocess

import cv2
import numpy as np
from scipy.interpolate import LinearNDInterpolator

from sources import work_folder

# npm packages with photographs of people who are not known to the public, and their licences.
FACE_PACKAGES = {"tabler-ui": ("0.0.34", "MIT"), "soft-ui-design-system": ("1.0.4", "MIT"), "material-dashboard": ("3.1.0", "MIT")}
# Folders of pictures in them, and files that show well-known persons.
FOLDERS = ("dist/demo/faces/female", "dist/demo/faces/male", "assets/img")
NOT_TAKEN = ("drake.jpg",)
HERE = os.path.dirname(os.path.abspath(__file__))
# Sides of the frame that faces are laid straight in: of all, and of the large ones.
SMALL, LARGE = 96, 192
# A face gives detail to a frame that is at most so much larger than it is itself.
ENLARGED = 1.3
# Composites made of each size.
COUNTS = {SMALL: 3000, LARGE: 1400}


def person(path):
    """A name that all pictures of a person share."""
    name = os.path.splitext(os.path.basename(path))[0].replace("-squares", "").replace("-square", "")
    return f"{os.path.basename(os.path.dirname(path))}/{name}"


def fetched():
    """The packages' folder; they are taken from the registry once."""
    folder = os.path.join(work_folder(), "npm")
    if not os.path.exists(os.path.join(folder, "node_modules", "tabler-ui")):
        os.makedirs(folder, exist_ok=True)
        wanted = [f"{name}@{version}" for name, (version, _) in FACE_PACKAGES.items()]
        subprocess.run(["npm", "install", "--prefix", folder, "--ignore-scripts", "--no-audit", "--no-fund", *wanted], check=True)
    return os.path.join(folder, "node_modules")


def photographed():
    """Faces with the program's meshes: dicts of path, mesh (468, 2) in pixels, and the frame's similarity (a, b, x, y)."""
    told = os.path.join(work_folder(), "faces.json")
    if not os.path.exists(told):
        root, listed = fetched(), os.path.join(work_folder(), "faces.list")
        paths = [os.path.join(root, package, folder, file) for package in FACE_PACKAGES for folder in FOLDERS
                 if os.path.isdir(os.path.join(root, package, folder)) for file in sorted(os.listdir(os.path.join(root, package, folder)))
                 if file.lower().endswith((".jpg", ".jpeg")) and file not in NOT_TAKEN]
        with open(listed, "w") as out:
            out.write("\n".join(paths))
        subprocess.run(["npx", "tsx", os.path.join(HERE, "faceMeshes.ts"), listed, told], check=True, cwd=os.path.dirname(HERE))
    with open(told) as file:
        return [{**face, "mesh": np.array(face["mesh"], np.float64).reshape(-1, 2)} for face in json.load(file)]


def of_part(faces, part):
    """The faces of the people that are for training, or of those that are held out."""
    held = set()
    names = sorted({person(face["path"]) for face in faces}, key=lambda name: hashlib.sha256(name.encode()).digest())
    for folder in {name.split("/")[0] for name in names}:
        own = [name for name in names if name.startswith(folder + "/")]
        held.update(own[:-(-len(own) // 8)])
    return [face for face in faces if (person(face["path"]) in held) == (part == "held")]


def face_sources():
    """Packages of the faces that are trained on, how many of each, and their licences."""
    counts = {}
    for face in of_part(photographed(), "train"):
        package = next(name for name in FACE_PACKAGES if f"/{name}/" in face["path"])
        counts[package] = counts.get(package, 0) + 1
    return {name: {"pictures": count, "licence": FACE_PACKAGES[name][1]} for name, count in counts.items()}


def scale_of(face):
    """Side of the frame in pixels of the picture."""
    return float(np.hypot(face["frame"]["a"], face["frame"]["b"]))


def framed(face):
    """The mesh in parts of the frame."""
    f, s = face["frame"], scale_of(face) ** 2
    x, y = face["mesh"][:, 0] - f["x"], face["mesh"][:, 1] - f["y"]
    return np.stack([(f["a"] * x + f["b"] * y) / s, (f["a"] * y - f["b"] * x) / s], 1)


def pictured(face, points):
    """Points in parts of the frame, in pixels of the picture."""
    f = face["frame"]
    return np.stack([f["a"] * points[:, 0] - f["b"] * points[:, 1] + f["x"], f["b"] * points[:, 0] + f["a"] * points[:, 1] + f["y"]], 1)


# Beyond the mesh everything stays where it is.
RING = np.array([(x, y) for x in np.linspace(-0.25, 1.25, 7) for y in np.linspace(-0.25, 1.25, 7) if min(x, y) < 0 or max(x, y) > 1])
# How far the points of two meshes may lie apart on average, in parts of the frame, to be mixed.
MIXED_UNDER = 0.04
# Corners of both eyes in the mesh; where they are nearer than this, the face is seen from the side, and its mesh folds.
EYES, SIDEWAYS = (33, 263), 0.36


def warped(faces, shape, side):
    """The faces' pictures, each (side, side, 3) in floats, with their meshes brought to one shape (468, 2), in parts of the frame."""
    values = [np.concatenate([face["mesh"], pictured(face, RING)]) for face in faces]
    at = LinearNDInterpolator(np.concatenate([shape, RING]), np.concatenate(values, 1))
    y, x = (np.mgrid[0:side, 0:side] + 0.5) / side
    found = at(np.stack([x, y], 2).reshape(-1, 2)).reshape(side, side, -1).astype(np.float32)
    out = []
    for n, face in enumerate(faces):
        picture = cv2.imread(face["path"])[:, :, ::-1]
        # Reduced first where it is much larger, so that nothing is skipped.
        less = max(1.0, scale_of(face) / side)
        if less > 1:
            picture = cv2.resize(picture, None, fx=1 / less, fy=1 / less, interpolation=cv2.INTER_AREA)
        place = found[:, :, 2 * n:2 * n + 2] / less - 0.5
        out.append(cv2.remap(picture.astype(np.float32), place[:, :, 0], place[:, :, 1], cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT_101))
    return out


def oval(shape, side):
    """Where the mesh lies, 1 inside, with a soft border."""
    mask = np.zeros((side, side), np.float32)
    cv2.fillConvexPoly(mask, cv2.convexHull((shape * side).astype(np.int32)), 1)
    return cv2.GaussianBlur(cv2.erode(mask, np.ones((3, 3)), iterations=max(1, side // 32)), (0, 0), side / 40)


def fronted(shape):
    """Whether a face looks towards the camera."""
    return float(np.hypot(*(shape[EYES[0]] - shape[EYES[1]]))) > SIDEWAYS


def layers_of(faces, side, random):
    """Pictures (side, side, 3) of one person and of up to four more whose meshes are much alike, brought to a shape between theirs, and that shape."""
    givers = [face for face in faces if scale_of(face) * ENLARGED >= side]
    giver = givers[random.integers(len(givers))]
    shapes = {id(face): framed(face) for face in faces}
    own = shapes[id(giver)]
    near = sorted(faces, key=lambda face: float(np.abs(shapes[id(face)] - own).mean()))[:12]
    mixes = lambda face: face is not giver and fronted(shapes[id(face)]) and float(np.abs(shapes[id(face)] - own).mean()) < MIXED_UNDER
    others = [near[n] for n in random.permutation(len(near))[:random.integers(1, 5)] if mixes(near[n])] if fronted(own) else []
    chosen = [giver, *others]
    weights = random.dirichlet([2.0] + [1.0] * (len(chosen) - 1))
    shape = sum(w * shapes[id(face)] for w, face in zip(weights, chosen))
    return warped(chosen, shape, side), shape


def composite(layers, shape, side, random):
    """A face that is nobody's: one person's finest detail and surroundings, on the broad light, colours and features that several together have."""
    if len(layers) == 1:
        return layers[0]
    weights = random.dirichlet([2.0] + [1.0] * (len(layers) - 1))
    low = lambda a: cv2.GaussianBlur(a, (0, 0), side / random.uniform(24, 60))
    bands = [low(layer) for layer in layers]
    mask = oval(shape, side)[:, :, None]
    mixed = sum(w * band for w, band in zip(weights, bands)) + layers[0] - bands[0]
    return layers[0] + mask * (mixed - layers[0])


def relit(face, layers, shape, side, random):
    """The same face as another photograph may show it: broad light and colours are, in part, those that another picture has there."""
    other = layers[int(random.integers(len(layers)))]
    broad = cv2.GaussianBlur(other - face, (0, 0), side / random.uniform(6, 14))
    return face + random.uniform(0.3, 1) * oval(shape, side)[:, :, None] * broad


def kept_faces(part, side, name, make):
    """Array (n, ...) of bytes of what `make` makes of layers, their shape, the side and chance; made once and kept."""
    path = os.path.join(work_folder(), f"{name}-{part}-{side}.npy")
    if not os.path.exists(path):
        faces = of_part(photographed(), part)
        random = np.random.default_rng(side)
        count = COUNTS[side] if part == "train" else 64
        made = np.stack([np.clip(np.rint(make(*layers_of(faces, side, random), side, random)), 0, 255).astype(np.uint8) for _ in range(count)])
        np.save(path + ".new.npy", made)
        os.replace(path + ".new.npy", path)
    return np.load(path, mmap_mode="r")


def composites(part, side):
    """Array (n, side, side, 3) of bytes: faces that are nobody's."""
    return kept_faces(part, side, "faces", composite)


def composite_pairs(part, side):
    """Array (n, 2, side, side, 3) of bytes: such faces, and each in another light."""

    def pair(layers, shape, size, random):
        face = composite(layers, shape, size, random)
        return np.stack([face, relit(face, layers, shape, size, random)])

    return kept_faces(part, side, "face-pairs", pair)

"""
Gives the modelled people of the demo faces that are nobody's: python3 demo/people/features.py [PICTURE ...]. Reads what pictures.ts renders into
demo/plates/modelled/, people without hair and their hair, and writes demo/plates/. Each member of the cast has skin, brows, eyes, nose and mouth of five people whose photographs npm packages
carry (training/faces.py), in a shape between theirs and the modelled head's, in the light of the scene and at the age that is told.
"""

import json
import os
import subprocess
import sys
import tempfile

import cv2
import numpy as np

HERE = os.path.dirname(os.path.abspath(__file__))
sys.path.insert(0, os.path.join(HERE, "..", "..", "training"))
import faces  # noqa: E402

PLATES = os.path.join(HERE, "..", "plates")
MODELLED_PLATES = os.path.join(PLATES, "modelled")

# Photographs by the part of the face that each gives most of: skin and jaw, brows, eyes, nose, mouth.
CAST = {
    "edwin": (1895, "male/34", "male/40", "male/30", "male/7", "male/9"),
    "lilian": (1898, "female/29", "female/1", "female/10", "female/14", "female/8"),
    "ruth": (1922, "female/9", "img/brooke", "female/10", "female/8", "female/1"),
    "harold": (1925, "male/37", "male/34", "male/35", "male/30", "male/40"),
    "arthur": (1919, "img/meeting", "male/5", "male/41", "male/34", "male/27"),
    "janet": (1950, "female/10", "female/14", "female/5", "female/9", "female/15"),
    "peter": (1953, "male/30", "img/meeting", "male/11", "male/10", "male/35"),
    "iris": (1929, "female/14", "female/15", "female/29", "female/5", "female/9"),
    "hand71": (1904, "male/13", "male/20", "male/7", "male/5", "male/37"),
    "hand85": (1925, "male/35", "male/10", "male/37", "male/11", "male/27"),
    "hand97": (1888, "male/7", "male/41", "male/40", "male/9", "male/34"),
    "hand103": (1917, "male/41", "male/9", "male/5", "male/35", "male/10"),
    "hand122": (1931, "male/11", "male/37", "male/35", "male/10", "male/40"),
}
# Children have no beard: their skin and mouths are of the first two of these that give nothing else, until an age.
CHILDREN, GROWN = ("female/8", "female/29", "female/1", "female/14"), 16
# Boys whose cut is one, thirty years apart, have others.
OTHER_CHILDREN = {"peter": ("female/1", "female/14", "female/8", "female/29")}
# Who is in each picture, from the left, the upper row first, when it was taken, and who wears glasses.
with open(os.path.join(HERE, "pictures.json")) as listed:
    PICTURES = json.load(listed)
# The sheet of all of the cast, a row a pose, by sheet.ts: in every pose another age.
SHEET, SHEET_AGES = ("edwin", "lilian", "ruth", "harold", "arthur", "janet", "peter", "iris"), (30, 38, 46)
# Share of the modelled head's shape in that of the face.
MODELLED = 0.4
# Photographs' skin is laid on stronger than what is left of its colour where several are mixed.
SATURATED = 1.3
# Which of the givers gives them.
EYES, MOUTH, DARK = 2, 4, 40
# Most red, green and blue over skin's, as lids are redder in small photographs than in life.
WARMEST = np.array([1.04, 1.15, 1.2], np.float32)
# How much the features' finest lines are raised: photographs are smaller than some of the heads.
SHARPER = 0.3
# Share of the mean of all givers in what is broader than lines.
MEAN = 0.55
# Where the parts lie in the frame, and how large they are in parts of it: brows, eyes, nose, mouth.
PARTS = [[(0.33, 0.31, 0.17, 0.07), (0.67, 0.31, 0.17, 0.07)], [(0.345, 0.41, 0.14, 0.075), (0.655, 0.41, 0.14, 0.075)],
         [(0.5, 0.54, 0.11, 0.14)], [(0.5, 0.745, 0.19, 0.10)]]
SIDE_LEAST = 160


def givers_of(who, age):
    skin, brows, eyes, nose, mouth = CAST[who][1:]
    if age < GROWN:
        skin, mouth = [name for name in OTHER_CHILDREN.get(who, CHILDREN) if name not in (brows, eyes, nose)][:2]
    return skin, brows, eyes, nose, mouth


def donors():
    """The largest photograph of each person."""
    found = {}
    for face in faces.photographed():
        if faces.fronted(faces.framed(face)):
            name = faces.person(face["path"])
            if name not in found or faces.scale_of(face) > faces.scale_of(found[name]):
                found[name] = face
    return found


def meshes(path):
    """Faces of a picture with their meshes."""
    root = os.path.join(HERE, "..", "..")
    told = subprocess.run(["npx", "tsx", os.path.join(HERE, "meshes.ts"), path], check=True, cwd=root, stdout=subprocess.PIPE).stdout
    return [{**face, "mesh": np.array(face["mesh"], np.float64).reshape(-1, 2)} for face in json.loads(told)]


def soft(a, sigma):
    return cv2.GaussianBlur(a, (0, 0), sigma, borderType=cv2.BORDER_REFLECT_101).reshape(a.shape)


def parts(side):
    """How much each of the five givers gives, (5, side, side), summing to 1."""
    y, x = (np.mgrid[0:side, 0:side] + 0.5) / side
    masks = []
    for places in PARTS:
        mask = np.zeros((side, side), np.float32)
        for cx, cy, w, h in places:
            mask = np.maximum(mask, np.clip(2.2 - 1.6 * np.hypot((x - cx) / w, (y - cy) / h), 0, 1).astype(np.float32))
        masks.append(mask)
    left = np.ones((side, side), np.float32)
    out = []
    for mask in (masks[1], masks[0], masks[3], masks[2]):
        out.append(mask * left)
        left = left * (1 - mask)
    eyes, brows, mouth, nose = out
    return np.stack([left, brows, eyes, nose, mouth])


def within(a, mask, sigma):
    """A blur that sees only what the mask leaves."""
    return soft(a * mask, sigma) / np.maximum(soft(mask[:, :, 0], sigma)[:, :, None], 1e-3)


LUMA = np.array([0.299, 0.587, 0.114], np.float32)


def inner(shape, side):
    """Where the face is laid over the head: its hull without the rim, where photographs show what is beside it."""
    mask = np.zeros((side, side), np.float32)
    cv2.fillConvexPoly(mask, cv2.convexHull((shape * side).astype(np.int32)), 1)
    return soft(cv2.erode(mask, np.ones((3, 3)), iterations=side // 13), side / 26)


def mirrored_points(shape):
    """Of each point of the mesh the one on the other side of the face."""
    flipped = np.stack([1 - shape[:, 0], shape[:, 1]], 1)
    return np.argmin(((shape[:, None] - flipped[None]) ** 2).sum(2), 0)


def levelled(face, shape, other, side):
    """A giver's picture in that shape, whose light comes from both sides alike."""
    picture = faces.warped([face], shape, side)[0]
    turned = faces.warped([{**face, "mesh": face["mesh"][other]}], shape, side)[0]
    half = 0.5 * (picture + turned)
    return half + 0.6 * ((picture - soft(picture, side / 28)) - (half - soft(half, side / 28)))


def face_of(who, known, doll, shape, side, age):
    """The face in the frame, (side, side, 3) in light of the doll's."""
    givers = [known[name] for name in givers_of(who, age)]
    other = mirrored_points(np.mean([faces.framed(face) for face in known.values()], 0))
    hull = faces.oval(shape, side)[:, :, None]
    # Luma and colour differences of each, against those round them.
    flat, colour, own = [], [], []
    for face in givers:
        layer = np.clip(levelled(face, shape, other, side), 2, 255)
        luma = (layer @ LUMA)[:, :, None]
        flat.append(luma / np.maximum(within(luma, hull, side / 8), 4))
        share = layer / luma
        colour.append(share / np.maximum(within(share, hull, side / 8), 0.1))
        # In the dark a photograph's colours are chance.
        plain = (layer + DARK) / (luma + DARK)
        own.append(plain / np.maximum(within(plain, hull, side / 8), 0.1))
    weights = parts(side)[:, :, :, None]
    mean = sum(flat) / len(flat)
    mixed = sum(w * f for w, f in zip(weights, flat))
    mixed = mixed + MEAN * (soft(mean, side / 40) - soft(mixed, side / 40))
    tint = 1 + 0.6 * (soft(sum(colour) / len(colour), side / 60) - 1)
    # Whites, irises and lips have the colours of those that give them, or all would be of skin.
    for k in (EYES, MOUTH):
        tint = tint + weights[k] * (np.clip(soft(own[k], side / 150), 0.85, WARMEST) - tint)
    low = within(doll, hull, side / 8)
    features = weights[1:].sum(0)
    skin = (hull > 0.9) & (features < 0.1)
    mixed = mixed / np.median(mixed[skin])
    # Children have no lines, and the old more.
    fine = mixed - soft(mixed, side / 45)
    keep = np.interp(age, [4, 14, 22, 45, 70, 90], [0.45, 0.75, 1.0, 1.15, 1.5, 1.7])
    mixed = mixed + (keep - 1) * (1 - 0.75 * features) * fine
    if age > 40:
        lines = (doll @ LUMA)[:, :, None] / np.maximum((low @ LUMA)[:, :, None], 4)
        lines = lines - soft(lines, side / 30)
        mixed = mixed + np.interp(age, [40, 75], [0.3, 0.9]) * (1 - features) * np.minimum(lines, 0.05)
    mixed = mixed + SHARPER * features * (mixed - soft(mixed, side / 80))
    # Pores, where photographs are too small for them.
    pores = soft(np.random.default_rng(side).normal(0, 1, (side, side, 1)).astype(np.float32), side / 220 + 0.5)
    mixed = mixed + np.interp(age, [5, 30], [0.008, 0.02]) * (1 - features) * pores / pores.std()
    made = mixed * tint * low
    grey = (made @ LUMA)[:, :, None]
    return grey + SATURATED * (made - grey)


def combed(picture, hair):
    """The picture with the layer of hair over it."""
    opacity = hair[:, :, 3:] / 255.0
    return picture * (1 - opacity) + hair[:, :, :3] * opacity


# Points round each brow of the mesh.
BROWS = ((70, 63, 105, 66, 107, 55, 65, 52, 53, 46), (336, 296, 334, 293, 300, 276, 283, 282, 295, 285))


def browless(doll, own, side):
    """The modelled face without the brows that are drawn on it."""
    mask = np.zeros((side, side), np.uint8)
    for brow in BROWS:
        cv2.fillConvexPoly(mask, cv2.convexHull((own[list(brow)] * side).astype(np.int32)), 255)
    mask = cv2.dilate(mask, np.ones((3, 3)), iterations=max(2, side // 28))
    bare = cv2.inpaint(np.clip(doll, 0, 255).astype(np.uint8), mask, side / 25, cv2.INPAINT_TELEA).astype(np.float32)
    m = soft(mask[:, :, None].astype(np.float32) / 255, 1.5)
    return doll + m * (bare - doll)


def glasses(picture, mesh):
    """Round frames of steel, drawn large and reduced."""
    k = 4
    left, right = mesh[[33, 133]].mean(0), mesh[[362, 263]].mean(0)
    apart = float(np.hypot(*(right - left)))
    pad = int(1.6 * apart)
    x0, y0 = int(left[0]) - pad, int(left[1]) - pad
    size = (int(right[1]) + pad - y0, int(right[0]) + pad - x0)
    mask = np.zeros((size[0] * k, size[1] * k), np.uint8)
    at = lambda p: (int(k * (p[0] - x0)), int(k * (p[1] - y0)))
    r, thick = int(k * 0.36 * apart), max(2, int(k * 0.035 * apart))
    down = np.array([0, 0.03 * apart])
    for eye in (left, right):
        cv2.circle(mask, at(eye + down), r, 255, thick, cv2.LINE_AA)
    along = (right - left) / apart
    cv2.line(mask, at(left + down + along * 0.36 * apart), at(right + down - along * 0.36 * apart), 255, thick, cv2.LINE_AA)
    for eye, way in ((left, -1), (right, 1)):
        end = mesh[234] if way < 0 else mesh[454]
        cv2.line(mask, at(eye + down + way * along * 0.36 * apart), at([end[0], eye[1] - 0.06 * apart]), 255, thick, cv2.LINE_AA)
    mask = cv2.resize(mask, (size[1], size[0]), interpolation=cv2.INTER_AREA)[:, :, None] / 255.0
    part = picture[y0:y0 + size[0], x0:x0 + size[1]]
    mask = mask[:part.shape[0], :part.shape[1]]
    part[:] = part * (1 - 0.85 * mask) + np.array([38, 36, 34]) * 0.85 * mask


def lay(picture, face, who, known, age):
    """One face of the picture (h, w, 3 in floats)."""
    f = face["frame"]
    scale = faces.scale_of(face)
    side = max(SIDE_LEAST, int(np.ceil(1.5 * scale / 8)) * 8)
    # From the frame's pixels to the picture's.
    to = np.array([[f["a"], -f["b"], 0], [f["b"], f["a"], 0]]) / side
    to[:, 2] = (f["x"] + to[0, 0] / 2 + to[0, 1] / 2 - 0.5, f["y"] + to[1, 0] / 2 + to[1, 1] / 2 - 0.5)
    doll = cv2.warpAffine(picture.astype(np.float32), to, (side, side), flags=cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP, borderMode=cv2.BORDER_REFLECT_101)
    own = faces.framed(face)
    before = doll
    doll = browless(doll, own, side)
    givers = [faces.framed(known[name]) for name in givers_of(who, age)]
    shape = MODELLED * own + (1 - MODELLED) * np.mean(givers, 0)
    made = face_of(who, known, doll, shape, side, age)
    mask = np.minimum(inner(shape, side), inner(own, side))[:, :, None]
    # The forehead stays the modelled one: over photographs' hangs their hair.
    y = (np.arange(side, dtype=np.float32) + 0.5)[:, None] / side
    brows = (shape[105, 1] + shape[334, 1]) / 2
    mask = mask * np.clip((y - brows + 0.10) / 0.08, 0, 1)[:, :, None]
    h, w = picture.shape[:2]
    back = lambda a: cv2.warpAffine(a, to, (w, h), flags=cv2.INTER_AREA, borderMode=cv2.BORDER_CONSTANT)
    # Reduced before it is laid back, so that nothing aliases.
    blur = 0.45 * max(0, side / scale - 1)
    made, mask = (soft(a, blur) if blur > 0.2 else a for a in (made, mask[:, :, 0]))
    bare = back((doll - before).astype(np.float32))
    picture[:] = picture + bare
    m = back(mask)[:, :, None]
    picture[:] = picture + m * (back(made.astype(np.float32)) - picture)
    moved = (shape - own) @ np.array([[f["a"], f["b"]], [-f["b"], f["a"]]])
    return face["mesh"] + moved


def in_rows(found, rows):
    """Faces with who they are, by the order they stand in."""
    left = sorted(found, key=lambda face: face["mesh"][:, 1].mean())
    for row in rows:
        here, left = left[:len(row)], left[len(row):]
        yield from zip(row, sorted(here, key=lambda face: face["mesh"][:, 0].mean()))


def in_cells(file, found, rows):
    """Faces of portraits side by side, in rows; one that is not found among the others is looked for by itself, twice as large."""
    picture = cv2.imread(file)
    wide, high = picture.shape[1] // len(rows[0]), picture.shape[0] // len(rows)
    for r, row in enumerate(rows):
        for n, who in enumerate(row):
            own = [face for face in found if (face["mesh"].mean(0) // (wide, high) == (n, r)).all()]
            if not own:
                corner = np.array([n * wide, r * high])
                with tempfile.TemporaryDirectory() as folder:
                    alone = os.path.join(folder, "portrait.png")
                    part = picture[r * high:(r + 1) * high, n * wide:(n + 1) * wide]
                    cv2.imwrite(alone, cv2.resize(part, None, fx=2, fy=2, interpolation=cv2.INTER_CUBIC))
                    own = [{"mesh": face["mesh"] / 2 + corner, "frame": {"a": face["frame"]["a"] / 2, "b": face["frame"]["b"] / 2,
                            "x": face["frame"]["x"] / 2 + corner[0], "y": face["frame"]["y"] / 2 + corner[1]}} for face in meshes(alone)]
            if len(own) != 1:
                raise SystemExit(f"{file}: {len(own)} faces where {who} is")
            yield who, own[0]


def dressed(name, known):
    """One of the pictures, or the sheet."""
    bald = cv2.imread(os.path.join(MODELLED_PLATES, f"{name}.png"))[:, :, ::-1].astype(np.float32)
    hair = cv2.imread(os.path.join(MODELLED_PLATES, f"{name}-hair.png"), cv2.IMREAD_UNCHANGED)[:, :, [2, 1, 0, 3]].astype(np.float32)
    told = PICTURES.get(name, {"year": None, "rows": [SHEET] * len(SHEET_AGES), "glasses": []})
    year, rows, worn = told["year"], told["rows"], told["glasses"]
    with tempfile.TemporaryDirectory() as folder:
        # Faces are found as they will be seen.
        file = os.path.join(folder, "modelled.png")
        cv2.imwrite(file, np.clip(np.rint(combed(bald, hair)), 0, 255).astype(np.uint8)[:, :, ::-1])
        found = meshes(file)
        who_is_where = list(in_cells(file, found, rows) if name.startswith(("album", "faces")) else in_rows(found, rows))
    picture = np.ascontiguousarray(bald)
    for n, (who, face) in enumerate(who_is_where):
        row, column = divmod(n, len(SHEET))
        age = year - CAST[who][0] if year else SHEET_AGES[(row + column) % len(SHEET_AGES)]
        mesh = lay(picture, face, who, known, age)
        if who in worn:
            glasses(picture, mesh)
    cv2.imwrite(os.path.join(PLATES, f"{name}.png"), np.clip(np.rint(combed(picture, hair)), 0, 255).astype(np.uint8)[:, :, ::-1])


if __name__ == "__main__":
    known = donors()
    for name in sys.argv[1:] or [*PICTURES, "faces"]:
        dressed(name, known)

"""
Held-out material for the bench, never seen in training: python3 heldOut.py writes made/held-stills.gray (crops of
photographs, 288 x 288), made/held-clips.gray (clips of 9 frames of 320 x 256), 8-bit luma, and made/held/KIND-NN.png: clean
pictures of many kinds in colour, small enough that nothing of their own noise and coding is left; and made/prints/NN-KIND.png: such
pictures with damage of one kind, NN.png the truth, and NN-KIND-mask.png: 255 where they are damaged, 128 where that may be disputed; made/scans/, the same of
parts of large photographs that are as soft as prints are in a scan; and
made/faces/real-NN.png and mixed-NN.png: faces of people that no network has seen; scene-NN.png
and scenes.json: photographs with them; and made/places/NAME.png: views of places and things in colour, each under the beginning of the
SHA-256 of its name.
"""

import hashlib
import json
import os
import shutil

import cv2
import numpy as np

from blemishSamples import COARSE, FINE, printed_softness
from blemishes import DRAWN, KINDS, STAINS, blemished
from colourSamples import ColourLibrary, coloured, named_photographs, scenes
from degrade import blurred, to_ycc
from faces import LARGE, composites, framed, of_part, photographed, scale_of, warped
from layers import clip
from samples import Library
from sources import collect, decode, files_of, looks, pictures, pictures_of, work_folder

SIDE = 288
# The held-out pictures that are whole photographs; figures, sheets of textures and the like would judge nothing.
PHOTOGRAPHS = ("Wood.jpg", "butterfly.jpg", "fruits.jpg", "leuvenA.jpg", "messi5.jpg", "scenetext06.jpg", "feature_building.jpg",
               "ColorfulCups", "seeding_by", "motion_original.jpg", "astra_color.jpg", "coins.jpg")
CLIPS, FRAMES, WIDTH, HEIGHT = 6, 9, 320, 256


def luma(rgb):
    return np.clip(np.rint(to_ycc(np.asarray(rgb))[:, :, 0]), 0, 255).astype(np.uint8)


def stills():
    """Middles of the photographs."""
    crops = []
    for p in pictures("photo", "held", names=PHOTOGRAPHS):
        if min(p.shape[:2]) < SIDE:
            continue
        y, x = (p.shape[0] - SIDE) // 2, (p.shape[1] - SIDE) // 2
        crops.append(luma(p[y:y + SIDE, x:x + SIDE]))
    return crops


# Packages that are kept to judge by: all their photographs are held out.
JUDGES = ("palapeli-data", "python3-sklearn")
# Long sides of the pictures as they are kept, in turn: what restorers get is of every size.
SIDES = (1200, 800, 560, 400)


def reduced(rgb, side):
    """By two at least, so that no noise is left, to a long side of at most `side`, both even."""
    h, w = rgb.shape[:2]
    scale = min(0.5, side / max(h, w))
    return cv2.resize(np.asarray(rgb), (2 * round(w * scale / 2), 2 * round(h * scale / 2)), interpolation=cv2.INTER_AREA)


def material():
    """Pairs of a kind and an RGB picture: photographs, textures, drawings, and small parts of photographs."""
    photographs = [decode(data) for package in JUDGES for _, data in files_of(package) if len(data) > 60000]
    photographs = [p for p in photographs if p is not None] + pictures("photo", "held", names=PHOTOGRAPHS)
    textures = [a for a, package in pictures_of("photo", "held") if package in ("nexuiz-textures", "ufoai-textures", "torcs-data")]
    drawings = pictures("drawn", "held")
    for n, p in enumerate(photographs):
        yield "photograph", reduced(p, SIDES[n % len(SIDES)])
        h, w = p.shape[:2]
        yield "small", reduced(p[h // 4:3 * h // 4, w // 4:3 * w // 4], (240, 160, 120)[n % 3])
    for n, p in enumerate(textures[::max(1, len(textures) // 24)]):
        yield "texture", reduced(p, SIDES[n % len(SIDES)])
    for n, p in enumerate(drawings[::max(1, len(drawings) // 16)]):
        yield "drawing", reduced(p, SIDES[n % len(SIDES)])


def keep_material():
    folder = os.path.join(work_folder(), "held")
    shutil.rmtree(folder, ignore_errors=True)
    os.makedirs(folder)
    for n, (kind, rgb) in enumerate(material()):
        cv2.imwrite(os.path.join(folder, f"{kind}-{n:02d}.png"), rgb[:, :, ::-1])


# Sides of the damaged prints at most, and how many there are.
PRINT_SIDE, PRINTS = 448, 30


# Packages of wallpapers, of whose photographs scans are made; long sides of the parts of them at least, and at most.
WALLPAPERS = ("mate-backgrounds", "gnome-backgrounds", "plasma-workspace-wallpapers", "lomiri-wallpapers-16.04", "lomiri-wallpapers-20.04",
              "ukui-wallpapers", "python3-skimage")
SCAN_SIDES = 420, 640


def keep_prints():
    """Small prints, or coarse scans of them."""
    chosen = [rgb for kind, rgb in material() if kind == "photograph" and min(rgb.shape[:2]) >= 120]
    keep_damaged("prints", [middle(rgb, PRINT_SIDE) for rgb in chosen[::max(1, len(chosen) // PRINTS)][:PRINTS]], COARSE)


def keep_scans():
    """Parts of scans at 300 to 600 dots an inch, where a print shows less than the scan could."""
    judges = [decode(data) for package in JUDGES for _, data in files_of(package) if len(data) > 60000]
    photographs = [p for p in judges if p is not None] + pictures("photo", "held", names=PHOTOGRAPHS)
    photographs += [p for p, package in pictures_of("photo", "held") if package in WALLPAPERS]
    keep_damaged("scans", [middle(np.asarray(p), SCAN_SIDES[1]) for p in photographs if p.ndim == 3 and min(p.shape[:2]) >= SCAN_SIDES[0]], FINE)


def middle(rgb, side):
    h, w = (min(side, extent) for extent in rgb.shape[:2])
    y, x = (rgb.shape[0] - h) // 2, (rgb.shape[1] - w) // 2
    return rgb[y:y + h, x:x + w]


def keep_damaged(name, pictures, softness):
    """Each picture as soft as prints are, and once with damage of each kind, of stains with each that counts as one."""
    sorts = [(kind, kind, DRAWN) for kind in KINDS if kind != "stains"]
    sorts += [("stains" if sort == "spilled" else sort, "stains", {"stains": draw}) for sort, draw in STAINS.items()]
    folder = os.path.join(work_folder(), name)
    shutil.rmtree(folder, ignore_errors=True)
    os.makedirs(folder)
    write = lambda name, picture: cv2.imwrite(os.path.join(folder, f"{name}.png"), np.clip(np.rint(picture), 0, 255).astype(np.uint8))
    for n, rgb in enumerate(pictures):
        scale = float(np.exp(np.random.default_rng(n).uniform(0, 0.8)))
        whole = blurred(rgb.astype(np.float32), printed_softness(scale, np.random.default_rng(n), softness))
        write(f"{n:02d}", whole[:, :, ::-1])
        for place, (sort, kind, drawn) in enumerate(sorts):
            random = np.random.default_rng(1000 * n + place)
            damaged, labels, sure = blemished(whole, random, [kind], scale, drawn)
            write(f"{n:02d}-{sort}", damaged[:, :, ::-1])
            write(f"{n:02d}-{sort}-mask", np.where(sure > 0, 255 * labels.max(2), 128))


# Long side of the views of places, and how far small pictures of two photographs differ at the least.
PLACE, SAME_LOOK = 480, 0.2


def keep_places():
    folder = os.path.join(work_folder(), "places")
    shutil.rmtree(folder, ignore_errors=True)
    os.makedirs(folder)
    named = dict(named_photographs("held"))
    for found in scenes("held").values():
        named.update(found)
    # Packages carry one photograph under several names.
    learned = [looks(np.asarray(rgb)) for kind in ColourLibrary("train").kinds for rgb in kind]
    for name, rgb in named.items():
        if coloured(rgb) and all(float(np.abs(looks(rgb) - other).mean()) >= SAME_LOOK for other in learned):
            cv2.imwrite(os.path.join(folder, f"{hashlib.sha256(name.encode()).hexdigest()[:8]}.png"), reduced(rgb, PLACE)[:, :, ::-1])


# Mixed faces that are kept.
MIXED_FACES = 24
# Long side of the photographs that are kept with their faces.
SCENE = 640


# Side of the frame of faces that are nobody's second picture, and how alike two small pictures of them may be that are not the same photograph.
STRANGER, SAME_PHOTOGRAPH = 128, 0.97


def everybody():
    """A face of every person, of all parts. Photographs come with several packages under several names."""
    seen, chosen = [], []
    for face in photographed():
        small = cv2.resize(luma(warped([face], framed(face), 64)[0]).astype(np.float32), (24, 24), interpolation=cv2.INTER_AREA).ravel()
        small = (small - small.mean()) / max(1e-3, float(np.linalg.norm(small - small.mean())))
        if all(float(small @ other) < SAME_PHOTOGRAPH for other in seen):
            seen.append(small)
            chosen.append(face)
    return chosen


def strangers():
    """Every other person: what tells people apart learned from none of them."""
    return everybody()[::2]


def crowd():
    """The others: what people have in common is learned from them."""
    return everybody()[1::2]


def keep_faces():
    """Faces of the people held out, laid straight, as they are (real-NN.png) and mixed of several (mixed-NN.png); one of each stranger (stranger-NN.png)."""
    folder = os.path.join(work_folder(), "faces")
    shutil.rmtree(folder, ignore_errors=True)
    os.makedirs(folder)
    write = lambda name, picture: cv2.imwrite(os.path.join(folder, f"{name}.png"), np.clip(np.rint(picture), 0, 255).astype(np.uint8)[:, :, ::-1])
    for n, face in enumerate(of_part(photographed(), "held")):
        side = 8 * int(min(LARGE, scale_of(face)) // 8)
        write(f"real-{n:02d}", warped([face], framed(face), side)[0])
    for n, face in enumerate(composites("held", LARGE)[:MIXED_FACES]):
        write(f"mixed-{n:02d}", face)
    for n, face in enumerate(strangers()):
        write(f"stranger-{n:02d}", warped([face], framed(face), STRANGER)[0])
    # The photographs themselves, and where the faces are in them: middle and width, in pixels.
    scenes = {}
    for face in of_part(photographed(), "held"):
        scenes.setdefault(face["path"], []).append(face["mesh"])
    places = []
    for n, (path, meshes) in enumerate(scenes.items()):
        picture = cv2.imread(path)
        scale = min(1.0, SCENE / max(picture.shape[:2]))
        write(f"scene-{n:02d}", cv2.resize(picture, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)[:, :, ::-1])
        low, high = (np.stack([limit(mesh, 0) for mesh in meshes]) * scale for limit in (np.min, np.max))
        places.append([{"x": float(x), "y": float(y), "width": float(w)} for x, y, w in np.column_stack([(low + high) / 2, (high - low)[:, 0]])])
    with open(os.path.join(folder, "scenes.json"), "w") as out:
        json.dump(places, out)


def moving():
    random = np.random.default_rng(77)
    library = Library("held", 0.1)
    return [luma_of(clip(lambda: library.pick(random), random, FRAMES, (WIDTH, HEIGHT))) for _ in range(CLIPS)]


def luma_of(rgb):
    return np.stack([luma(np.clip(f, 0, 255)) for f in rgb])


if __name__ == "__main__":
    missing = [package for package in JUDGES if not any(True for _ in files_of(package))]
    if missing:
        raise SystemExit(f"held-out pictures come from Debian's packages {' and '.join(JUDGES)} too; missing: {' '.join(missing)}")
    collect()
    np.concatenate([c.reshape(-1) for c in stills()]).tofile(os.path.join(work_folder(), "held-stills.gray"))
    np.concatenate([c.reshape(-1) for c in moving()]).tofile(os.path.join(work_folder(), "held-clips.gray"))
    sheet = np.concatenate([np.concatenate(stills()[n:n + 4], 1) for n in range(0, len(stills()) // 4 * 4, 4)], 0)
    cv2.imwrite(os.path.join(work_folder(), "held-stills.png"), sheet)
    keep_material()
    keep_prints()
    keep_scans()
    keep_places()
    keep_faces()
